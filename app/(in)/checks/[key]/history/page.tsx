import Link from 'next/link'
import { notFound } from 'next/navigation'
import { checkByKey } from '@/store/checks'
import { database } from '@/store/database'
import { listRevisions } from '@/store/history'
import { DifferenceList } from '@/ui/history/difference-list'
import { RestoreButton } from '@/ui/history/history-buttons'
import { Moment } from '@/ui/marks/moment'
import { SubNav } from '@/ui/shell/sub-nav'

export const metadata = { title: 'History' }

export default async function CheckHistory({ params }: { params: Promise<{ key: string }> }) {
  const { key } = await params
  const now = Date.now()
  const stored = await checkByKey(database(), key)
  if (!stored) notFound()
  const revisions = await listRevisions(database(), 'check', stored.id)
  return (
    <>
      <SubNav />
      <h1>{revisions.length <= 1 ? `${stored.check.name} has not been changed since it was added.` : `${stored.check.name} was last changed by ${revisions[0]!.person ?? 'Hemeron'}.`}</h1>
      <p style={{ margin: '4px 0 10px' }}><Link href={`/checks/${key}`}>Back to the check</Link></p>
      <div className="card scroll"><table className="table"><tbody>
        {revisions.map((revision, index) => (
          <tr key={revision.version} style={{ verticalAlign: 'top' }}>
            <td className="number" style={{ width: 90 }}>version {revision.version}</td><td className="quiet" style={{ width: 130, whiteSpace: 'nowrap' }}><Moment at={revision.at} now={now} /></td><td style={{ width: 150 }}>{revision.person ?? 'Hemeron'}</td>
            <td className="small"><b>{revision.title}</b>{revision.document === null ? <div className="quiet">taken out of use</div> : revision.before === null ? <div className="quiet">{revision.version === 1 ? 'added' : 'in use again'}</div> : <DifferenceList before={revision.before} after={revision.document} />}</td>
            <td className="number">{index > 0 && revision.document !== null && <RestoreButton kind="check" subject={stored.id} version={revision.version} />}</td>
          </tr>
        ))}
      </tbody></table></div>
    </>
  )
}
