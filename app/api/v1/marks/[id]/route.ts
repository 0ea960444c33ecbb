import { answering, requireToken } from '../../../../server/requests'
import { beforeAfterView } from '../../../../server/before-after-view'
import { markAsJson } from '../../../../server/representations'
import { speakBeforeAfter } from '@/core/marks/before-after'
import { speakMilliseconds } from '@/core/definitions/duration'
import { database } from '@/store/database'
import { removeMark, requireMark } from '@/store/marks'

export const dynamic = 'force-dynamic'
type Context = { params: Promise<{ id: string }> }

/** A mark with what changed after it. */
export const GET = answering<Context>(async (request, { params }) => {
  await requireToken(request, 'read')
  const mark = await requireMark(database(), Number((await params).id))
  const { found, before, after, places } = await beforeAfterView(mark, Date.now())
  const iso = ({ from, to }: { from: number; to: number }) => ({ from: new Date(from).toISOString(), to: new Date(to).toISOString() })
  return Response.json({ ...markAsJson(mark), verdict: speakBeforeAfter(found, speakMilliseconds), change: found.change, medians: { before: found.before ?? null, after: found.after ?? null }, difference: found.low === undefined ? null : { low: found.low, high: found.high }, compared: { before: iso(before), after: iso(after) }, locations: found.locations.map(({ location, ...each }) => ({ location: places.get(location)?.place ?? '', ...each })) })
})

export const DELETE = answering<Context>(async (request, { params }) => {
  const person = await requireToken(request, 'respond')
  await removeMark(database(), Number((await params).id), person.id, Date.now())
  return new Response(null, { status: 204 })
})
