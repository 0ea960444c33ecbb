import Link from 'next/link'
import { notFound } from 'next/navigation'
import { HemeronError } from '@/core/problems'
import { PrintButton } from '@/ui/incident/print-button'
import { Written } from '@/ui/marks/written'
import { incidentSummary } from '../../../../server/summary-view'
import { signedIn } from '../../../../server/session'

export const metadata = { title: 'Summary' }

export default async function Summary({ params }: { params: Promise<{ id: string }> }) {
  await signedIn()
  const id = Number((await params).id)
  const text = await incidentSummary(id, Date.now()).catch((error: unknown) => {
    if (error instanceof HemeronError && error.code === 'not-found') notFound()
    throw error
  })
  return (
    <>
      <div className="apart no-print" style={{ marginBottom: 12 }}><Link href={`/incidents/${id}`}>Back to the incident</Link><span className="row">{[['PDF', 'pdf'], ['Markdown', 'markdown']].map(([name, form]) => <a key={form} className="chip touch" style={{ minHeight: 30, padding: '0 12px', fontWeight: 600 }} href={`/api/incidents/${id}/summary?form=${form}`}>{name}</a>)}<PrintButton /></span></div>
      <article className="card pad written sheet"><Written text={text} /></article>
    </>
  )
}
