import { answering, requireToken } from '../../../../../server/requests'
import { setPaused } from '@/store/checks'
import { database } from '@/store/database'

export const dynamic = 'force-dynamic'
type Context = { params: Promise<{ key: string }> }

const turn = (on: boolean) => answering<Context>(async (request, { params }) => {
  const person = await requireToken(request, 'write')
  await setPaused(database(), (await params).key, on, person.id, Date.now())
  return new Response(null, { status: 204 })
})

export const PUT = turn(true)
export const DELETE = turn(false)
