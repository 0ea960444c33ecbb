import { answering } from '../../../server/requests'
import { boardView } from '../../../server/board-view'

export const dynamic = 'force-dynamic'

/** What a board shows now. Its address is the only key to it. */
export const GET = answering<{ params: Promise<{ name: string }> }>(async (_request, { params }) => Response.json(await boardView((await params).name, Date.now()), { headers: { 'cache-control': 'no-store' } }))
