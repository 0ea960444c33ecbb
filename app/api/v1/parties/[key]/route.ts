import { answering, readBody, requireToken } from '../../../../server/requests'
import { HemeronError } from '@/core/problems'
import { database } from '@/store/database'
import { putParty, removeParty } from '@/store/parties'

export const dynamic = 'force-dynamic'
type Context = { params: Promise<{ key: string }> }

/** Puts a party in place, new or changed. */
export const PUT = answering<Context>(async (request, { params }) => {
  const person = await requireToken(request, 'write')
  const document = await readBody(request)
  const { key } = await params
  if (document.party !== key) throw new HemeronError('bad-document', undefined, [{ path: 'party', found: `"${String(document.party).slice(0, 80)}"`, expected: `the key of the address, ${key.slice(0, 80)}` }])
  await putParty(database(), document, person.id, Date.now())
  return Response.json(document)
})

export const DELETE = answering<Context>(async (request, { params }) => {
  const person = await requireToken(request, 'write')
  await removeParty(database(), (await params).key, person.id, Date.now())
  return new Response(null, { status: 204 })
})
