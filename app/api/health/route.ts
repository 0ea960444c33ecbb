import { answering } from '../../server/requests'
import { database } from '@/store/database'
import { definitionsNumber } from '@/store/locations'

export const dynamic = 'force-dynamic'

/** Answers 200 when the web process reaches its database. */
export const GET = answering(async () => {
  await definitionsNumber(database())
  return Response.json({ state: 'ok' })
})
