import { answering } from '../../../../server/requests'
import { incidentPaper } from '../../../../server/incident-paper'
import { personOfRequest } from '../../../../server/session'
import { incidentSummary } from '../../../../server/summary-view'
import { HemeronError } from '@/core/problems'

export const dynamic = 'force-dynamic'

/** The drafted summary of an incident, for someone who is signed in: as a Markdown file, or with `form=pdf` on pages. */
export const GET = answering<{ params: Promise<{ id: string }> }>(async (request, { params }) => {
  if (!(await personOfRequest())) throw new HemeronError('not-signed-in')
  const id = Number((await params).id)
  const form = new URL(request.url).searchParams.get('form') ?? 'markdown'
  if (form !== 'markdown' && form !== 'pdf') throw new HemeronError('bad-request', undefined, [{ path: 'form', found: `"${form.slice(0, 40)}"`, expected: 'markdown or pdf' }])
  return form === 'pdf'
    ? new Response(Buffer.from(await incidentPaper(id, Date.now())), { headers: { 'content-type': 'application/pdf', 'content-disposition': `attachment; filename="incident-${id}.pdf"` } })
    : new Response(await incidentSummary(id, Date.now()), { headers: { 'content-type': 'text/markdown; charset=utf-8', 'content-disposition': `attachment; filename="incident-${id}.md"` } })
})
