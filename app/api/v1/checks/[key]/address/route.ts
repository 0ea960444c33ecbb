import { inletAddress } from '../../../../../server/inlet'
import { answering, requireToken } from '../../../../../server/requests'
import { HemeronError } from '@/core/problems'
import { requireCheck, type StoredCheck } from '@/store/checks'
import { database } from '@/store/database'
import { renewInlet } from '@/store/inlet'

export const dynamic = 'force-dynamic'

type Context = { params: Promise<{ key: string }> }

async function answer(stored: StoredCheck): Promise<Response> {
  const address = await inletAddress(stored)
  if (address === undefined) throw new HemeronError('wrong-state', 'This check is not told anything: it asks by itself.')
  return Response.json({ address })
}

/** The address at which a job calls, or a host pushes numbers. */
export const GET = answering<Context>(async (request, { params }) => {
  await requireToken(request, 'write')
  return answer(await requireCheck(database(), (await params).key))
})

/** Makes another address; the one before takes nothing any more. */
export const POST = answering<Context>(async (request, { params }) => {
  await requireToken(request, 'write')
  const stored = await requireCheck(database(), (await params).key)
  await renewInlet(database(), stored.id)
  return answer(stored)
})
