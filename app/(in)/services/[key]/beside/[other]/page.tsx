import Link from 'next/link'
import { notFound } from 'next/navigation'
import { differences, speakValue, type Difference } from '@/core/definitions/differences'
import { withoutFields } from '@/core/definitions/without-fields'
import { pairChecks } from '@/core/stages/copy-stage'
import type { StoredCheck } from '@/store/checks'
import { database } from '@/store/database'
import { listStates, type StoredState } from '@/store/states'
import { listServices } from '@/store/world'
import { RefreshOn } from '@/ui/live/live'
import { StateMark } from '@/ui/marks/state-mark'
import { SubNav } from '@/ui/shell/sub-nav'
import { allChecks } from '../../../../../server/definitions'

export const metadata = { title: 'Two stages side by side' }

/** Fields that differ between any two things. */
const OWN = ['check', 'service', 'name', 'stage']
const withoutOwn = (document: Record<string, unknown>) => withoutFields(document, OWN)

export default async function Beside({ params }: { params: Promise<{ key: string; other: string }> }) {
  const { key, other } = await params
  const [services, checks, states] = await Promise.all([listServices(database()), allChecks(), listStates(database())])
  const [left, right] = [services.find((each) => each.key === key), services.find((each) => each.key === other)]
  if (!left || !right) notFound()
  const of = (id: number) => checks.filter((check) => check.serviceId === id).map((stored) => ({ key: stored.check.key, name: stored.check.name, stored }))
  const pairs = pairChecks(of(left.id), of(right.id)).map((pair) => ({
    ...pair, differ: pair.left && pair.right ? differences(withoutOwn(pair.left.stored.settled.document), withoutOwn(pair.right.stored.settled.document)) : []
  }))
  const shared = differences(withoutOwn(left.document), withoutOwn(right.document))
  const single = pairs.filter((pair) => !pair.left || !pair.right).length
  const differing = pairs.filter((pair) => pair.differ.length > 0).length
  return (
    <>
      <RefreshOn topics={['state', 'definitions']} pause={2000} />
      <SubNav />
      <h1>{left.name}: {left.stage} and {right.stage} {differing + single === 0 ? 'check the same in the same way' : [differing > 0 ? `check ${differing} ${differing === 1 ? 'thing' : 'things'} differently` : '', single > 0 ? `${single} ${single === 1 ? 'check stands' : 'checks stand'} on one side only` : ''].filter(Boolean).join('; ')}.</h1>
      <section className="section"><h2>What the services share</h2><div className="card pad" style={{ marginTop: 6 }}><Differences list={shared} left={left.stage} right={right.stage} /></div></section>
      <section className="section"><h2>Checks</h2>
        <div className="card scroll" style={{ marginTop: 6 }}><table className="table">
          <thead><tr><th>Check</th><th>{left.stage}</th><th>{right.stage}</th><th>What differs, with everything inherited</th></tr></thead>
          <tbody>{pairs.map((pair) => (
            <tr key={`${pair.left?.key}/${pair.right?.key}`} style={{ verticalAlign: 'top' }}>
              <td className="strong">{pair.name}</td><td><Side stored={pair.left?.stored} states={states} /></td><td><Side stored={pair.right?.stored} states={states} /></td>
              <td>{pair.left && pair.right ? <Differences list={pair.differ} left={left.stage} right={right.stage} /> : <span className="slow-text">only at {pair.left ? left.stage : right.stage}</span>}</td>
            </tr>
          ))}</tbody>
        </table></div>
      </section>
    </>
  )
}

function Side({ stored, states }: { stored: StoredCheck | undefined; states: Map<number, StoredState> }) {
  if (!stored) return <span className="quiet">none</span>
  const state = states.get(stored.id)
  return <div className="row" style={{ alignItems: 'flex-start', flexWrap: 'nowrap' }}><span style={{ paddingTop: 5 }}><StateMark state={state?.state ?? 'nodata'} /></span><span><Link href={`/checks/${stored.check.key}`}>{stored.check.key}</Link>{state?.sentence && state.state !== 'up' && <div className="quiet small" style={{ maxWidth: 220 }}>{state.sentence}</div>}</span></div>
}

function Differences({ list, left, right }: { list: Difference[]; left: string; right: string }) {
  if (list.length === 0) return <span className="quiet">nothing</span>
  return (
    <table className="small" style={{ borderCollapse: 'collapse' }}><tbody>
      {list.map((each) => <tr key={each.path}><td className="code" style={{ padding: '2px 14px 2px 0', border: 0 }}>{each.path}</td><td style={{ padding: '2px 14px 2px 0', border: 0 }} className="code" title={left}>{speakValue(each.before)}</td><td style={{ padding: '2px 0', border: 0 }} className="code" title={right}>{speakValue(each.after)}</td></tr>)}
    </tbody></table>
  )
}
