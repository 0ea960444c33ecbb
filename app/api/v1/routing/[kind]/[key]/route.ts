import { answering, ifMatch, readBody, requireToken } from '../../../../../server/requests'
import { HemeronError } from '@/core/problems'
import { ROUTING_KINDS, type RoutingKind } from '@/core/routing/routing-world'
import { database } from '@/store/database'
import { defineRouting, listRouting } from '@/store/routing'

export const dynamic = 'force-dynamic'
type Context = { params: Promise<{ kind: string; key: string }> }

function kindOf(kind: string): RoutingKind {
  if (!ROUTING_KINDS.includes(kind as RoutingKind)) throw new HemeronError('not-found', `There is no “${kind.slice(0, 50)}”, only ${ROUTING_KINDS.join(', ')}.`)
  return kind as RoutingKind
}

/** Puts a team, rota or route in place, new or changed. */
export const PUT = answering<Context>(async (request, { params }) => {
  const person = await requireToken(request, 'write')
  const { kind, key } = await params
  const document = await readBody(request)
  const fromVersion = ifMatch(request)
  await defineRouting(database(), [{ kind: kindOf(kind), key, document, ...(fromVersion === undefined ? {} : { fromVersion }) }], person.id, Date.now())
  const stored = (await listRouting(database())).find((each) => each.kind === kind && each.key === key)!
  return Response.json(stored, { headers: { etag: `"${stored.version}"` } })
})

export const DELETE = answering<Context>(async (request, { params }) => {
  const person = await requireToken(request, 'write')
  const { kind, key } = await params
  if (!(await listRouting(database())).some((each) => each.kind === kindOf(kind) && each.key === key)) throw new HemeronError('not-found', `There is no ${kind} ${key.slice(0, 100)}.`)
  await defineRouting(database(), [{ kind: kindOf(kind), key, document: null }], person.id, Date.now())
  return new Response(null, { status: 204 })
})
