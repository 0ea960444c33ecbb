import { takeNumbers } from '../../../../server/take-numbers'

export const dynamic = 'force-dynamic'

/** Where an OTLP/HTTP exporter sends metrics when it is given the check's address as its endpoint. */
export const POST = takeNumbers
