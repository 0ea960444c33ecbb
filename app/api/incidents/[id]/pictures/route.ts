import { answering } from '../../../../server/requests'
import { signedInAs, personOfRequest } from '../../../../server/session'
import { PICTURE_MOST } from '@/core/incidents/picture'
import { HemeronError } from '@/core/problems'
import { database } from '@/store/database'
import { addPicture } from '@/store/pictures'

export const dynamic = 'force-dynamic'

/** Takes a picture for a note, as bytes; gives the address it is shown at. */
export const POST = answering<{ params: Promise<{ id: string }> }>(async (request, { params }) => {
  if (!(await personOfRequest())) throw new HemeronError('not-signed-in')
  const person = await signedInAs('responder')
  if (Number(request.headers.get('content-length') ?? 0) > PICTURE_MOST) throw new HemeronError('bad-document', undefined, [{ path: 'picture', found: 'more', expected: `at most ${PICTURE_MOST} bytes` }])
  const key = await addPicture(database(), Number((await params).id), new Uint8Array(await request.arrayBuffer()), person.id, Date.now())
  return Response.json({ path: `/api/pictures/${key}` }, { status: 201 })
})
