import { answering, readJson, requireToken } from '../../../../server/requests'
import { checkOut } from '../../../../server/representations'
import { removeCheck, replaceCheck, requireCheck } from '@/store/checks'
import { database } from '@/store/database'
import { HemeronError } from '@/core/problems'
import { listStates } from '@/store/states'

export const dynamic = 'force-dynamic'
type Context = { params: Promise<{ key: string }> }

export const GET = answering<Context>(async (request, { params }) => {
  await requireToken(request, 'read')
  const stored = await requireCheck(database(), (await params).key)
  return Response.json(checkOut(stored, (await listStates(database(), [stored.id])).get(stored.id)), { headers: { etag: `"${stored.version}"` } })
})

/** Replaces a definition; `If-Match` with the version it was read at keeps two editors apart (RFC 9110, section 13.1.1). */
export const PUT = answering<Context>(async (request, { params }) => {
  const person = await requireToken(request, 'write')
  const match = request.headers.get('if-match')
  const version = match === null || match === '*' ? undefined : Number(match.replace(/"/g, ''))
  if (version !== undefined && !Number.isInteger(version)) throw new HemeronError('bad-request', 'If-Match needs the ETag the check was read with.')
  const stored = await replaceCheck(database(), (await params).key, await readJson(request), version, person.id, Date.now())
  return Response.json(checkOut(stored, (await listStates(database(), [stored.id])).get(stored.id)), { headers: { etag: `"${stored.version}"` } })
})

export const DELETE = answering<Context>(async (request, { params }) => {
  const person = await requireToken(request, 'write')
  await removeCheck(database(), (await params).key, person.id, Date.now())
  return new Response(null, { status: 204 })
})
