import { answering, ifMatch, readJson, requireToken } from '../../../../server/requests'
import { checkOut } from '../../../../server/representations'
import { requireCheck } from '@/store/checks'
import { removeCheck, replaceCheck } from '@/store/define-one'
import { database } from '@/store/database'
import { listStates } from '@/store/states'

export const dynamic = 'force-dynamic'
type Context = { params: Promise<{ key: string }> }

export const GET = answering<Context>(async (request, { params }) => {
  await requireToken(request, 'read')
  const stored = await requireCheck(database(), (await params).key)
  return Response.json(checkOut(stored, (await listStates(database(), [stored.id])).get(stored.id)), { headers: { etag: `"${stored.version}"` } })
})

/** Replaces a definition; `If-Match` with the version it was read at keeps two editors apart. */
export const PUT = answering<Context>(async (request, { params }) => {
  const person = await requireToken(request, 'write')
  const stored = await replaceCheck(database(), (await params).key, await readJson(request), ifMatch(request), person.id, Date.now())
  return Response.json(checkOut(stored, (await listStates(database(), [stored.id])).get(stored.id)), { headers: { etag: `"${stored.version}"` } })
})

export const DELETE = answering<Context>(async (request, { params }) => {
  const person = await requireToken(request, 'write')
  await removeCheck(database(), (await params).key, person.id, Date.now())
  return new Response(null, { status: 204 })
})
