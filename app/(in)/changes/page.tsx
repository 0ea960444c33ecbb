import Link from 'next/link'
import { database } from '@/store/database'
import { changeSet, listChangeSets, type Revision } from '@/store/history'
import { DifferenceList } from '@/ui/history/difference-list'
import { UndoButton } from '@/ui/history/history-buttons'
import { RefreshOn } from '@/ui/live/live'
import { Moment } from '@/ui/marks/moment'
import { SubNav } from '@/ui/shell/sub-nav'

export const metadata = { title: 'Changes' }

export default async function Changes({ searchParams }: { searchParams: Promise<{ open?: string }> }) {
  const { open } = await searchParams
  const now = Date.now()
  const sets = await listChangeSets(database(), 100)
  const opened = open === undefined ? undefined : await changeSet(database(), Number(open))
  return (
    <>
      <RefreshOn topics={['definitions']} pause={2000} />
      <SubNav />
      <h1>{sets.length === 0 ? 'Nothing has been changed yet.' : `${sets[0]!.person ?? 'Hemeron'} changed something last: ${sets[0]!.title.charAt(0).toLowerCase()}${sets[0]!.title.slice(1)}.`}</h1>
      <div className="card scroll" style={{ marginTop: 10 }}><table className="table"><tbody>
        {sets.map((set) => (
          <tr key={set.id} style={{ verticalAlign: 'top' }}>
            <td className="quiet" style={{ width: 130, whiteSpace: 'nowrap' }}><Moment at={set.at} now={now} /></td><td style={{ width: 150 }}>{set.person ?? 'Hemeron'}</td>
            <td><Link href={String(set.id) === open ? '/changes' : `/changes?open=${set.id}`} scroll={false} style={{ color: 'var(--ink)' }} className="strong">{set.title}</Link> <span className="quiet small">{set.count} {set.count === 1 ? 'definition' : 'definitions'}</span>
              {String(set.id) === open && opened && <div className="small" style={{ marginTop: 6, display: 'grid', gap: 6 }}>{opened.slice(0, 60).map((revision) => <div key={`${revision.kind}/${revision.subject}`}><b>{nameOf(revision)}</b> <span className="quiet">{revision.before === null ? 'is new' : revision.document === null ? 'was taken out of use' : ''}</span>{revision.before !== null && revision.document !== null && <DifferenceList before={revision.before} after={revision.document} />}</div>)}{opened.length > 60 && <span className="quiet">and {opened.length - 60} more</span>}</div>}</td>
            <td className="number">{set.undone ? <span className="quiet">undone</span> : <UndoButton change={set.id} />}</td>
          </tr>
        ))}
      </tbody></table></div>
    </>
  )
}

function nameOf({ kind, document, before }: Revision): string {
  return kind === 'workspace' ? 'The defaults' : String((document ?? before)?.name ?? kind)
}
