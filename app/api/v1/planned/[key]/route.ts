import { answering, readBody, requireToken } from '../../../../server/requests'
import { HemeronError } from '@/core/problems'
import { database } from '@/store/database'
import { endPlanned, removePlanned } from '@/store/planned'

export const dynamic = 'force-dynamic'
type Context = { params: Promise<{ key: string }> }

/** Gives the time that is on another end: `{ "to": time }`, or now when nothing is given. */
export const PATCH = answering<Context>(async (request, { params }) => {
  const person = await requireToken(request, 'respond')
  const { to } = await readBody(request)
  const now = Date.now()
  const at = to === undefined ? now : Date.parse(String(to))
  if (Number.isNaN(at)) throw new HemeronError('bad-document', undefined, [{ path: 'to', found: `"${String(to).slice(0, 50)}"`, expected: 'a time such as 2026-11-23T14:00:00Z' }])
  await endPlanned(database(), (await params).key, at, person.id, now)
  return new Response(null, { status: 204 })
})

export const DELETE = answering<Context>(async (request, { params }) => {
  const person = await requireToken(request, 'write')
  await removePlanned(database(), (await params).key, person.id, Date.now())
  return new Response(null, { status: 204 })
})
