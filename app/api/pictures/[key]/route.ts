import { answering } from '../../../server/requests'
import { personOfRequest } from '../../../server/session'
import { HemeronError } from '@/core/problems'
import { database } from '@/store/database'
import { requirePicture } from '@/store/pictures'

export const dynamic = 'force-dynamic'

/** A picture of a note, for someone who is signed in. It is shown as what it was found to be and as nothing else. */
export const GET = answering<{ params: Promise<{ key: string }> }>(async (_request, { params }) => {
  if (!(await personOfRequest())) throw new HemeronError('not-signed-in')
  const { type, content } = await requirePicture(database(), (await params).key)
  return new Response(new Uint8Array(content), { headers: { 'content-type': type, 'x-content-type-options': 'nosniff', 'content-security-policy': "default-src 'none'; sandbox", 'cache-control': 'private, max-age=86400, immutable' } })
})
