import { answering, readBody, requireToken } from '../../../../../../server/requests'
import { HemeronError } from '@/core/problems'
import { database } from '@/store/database'
import { requireService } from '@/store/define-one'
import { setSecret } from '@/store/secrets'

export const dynamic = 'force-dynamic'

/** Sets the value of a secret that the service declares: `{ "value": … }`. It cannot be read again. */
export const PUT = answering<{ params: Promise<{ key: string; name: string }> }>(async (request, { params }) => {
  const person = await requireToken(request, 'write')
  const { key, name } = await params
  const service = await requireService(database(), key)
  if (!((service.document.secrets ?? []) as string[]).includes(name)) throw new HemeronError('not-found', `The service ${key} declares no secret ${name.slice(0, 64)}.`)
  const { value } = await readBody(request)
  if (typeof value !== 'string') throw new HemeronError('bad-document', undefined, [{ path: 'value', found: JSON.stringify(value) ?? 'nothing', expected: 'the value as text' }])
  await setSecret(database(), 'service', service, name, value, person.id, Date.now())
  return new Response(null, { status: 204 })
})
