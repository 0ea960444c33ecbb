import { answering, readBody, requireToken, timeParameter } from '../../../server/requests'
import { markAsJson } from '../../../server/representations'
import { readMark } from '@/core/marks/mark'
import { HemeronError } from '@/core/problems'
import { DAY } from '@/core/units'
import { database } from '@/store/database'
import { addMark, listMarks, requireMark } from '@/store/marks'

export const dynamic = 'force-dynamic'

/** Marks within a range, oldest first; the last 30 days when nothing is said. */
export const GET = answering(async (request) => {
  await requireToken(request, 'read')
  const url = new URL(request.url)
  const to = timeParameter(url, 'to', Date.now() + DAY)
  return Response.json({ marks: (await listMarks(database(), { from: timeParameter(url, 'from', to - 31 * DAY), to })).map(markAsJson) })
})

/** Sets a mark, as a pipeline does after a release. */
export const POST = answering(async (request) => {
  const person = await requireToken(request, 'respond')
  const now = Date.now()
  const read = readMark(await readBody(request), now)
  if ('problems' in read) throw new HemeronError('bad-document', undefined, read.problems)
  const id = await addMark(database(), read.mark, person.id, now)
  return Response.json(markAsJson(await requireMark(database(), id)), { status: 201, headers: { location: `/api/v1/marks/${id}` } })
})
