import { takeNumbers } from '../../server/take-numbers'

export const dynamic = 'force-dynamic'

/** A host pushes numbers. */
export const POST = takeNumbers
