import { answering } from '../../../../server/requests'
import { personOfRequest } from '../../../../server/session'
import { incidentSummary } from '../../../../server/summary-view'
import { HemeronError } from '@/core/problems'

export const dynamic = 'force-dynamic'

/** The drafted summary of an incident as a Markdown file, for someone who is signed in. */
export const GET = answering<{ params: Promise<{ id: string }> }>(async (_request, { params }) => {
  if (!(await personOfRequest())) throw new HemeronError('not-signed-in')
  const id = Number((await params).id)
  return new Response(await incidentSummary(id, Date.now()), { headers: { 'content-type': 'text/markdown; charset=utf-8', 'content-disposition': `attachment; filename="incident-${id}.md"` } })
})
