import Link from 'next/link'
import { speakService } from '@/core/definitions/service'
import { speakMoment, toLocal, writeLocal } from '@/core/time/zoned'
import { DAY } from '@/core/units'
import { database } from '@/store/database'
import { listMarks } from '@/store/marks'
import { roleReaches } from '@/store/people'
import { listServices } from '@/store/world'
import { FindOutHead } from '@/ui/findout/find-out-nav'
import { MarkForm, RemoveMark } from '@/ui/findout/mark-form'
import { RefreshOn } from '@/ui/live/live'
import { settings, signedIn } from '../../../server/session'

export const metadata = { title: 'Marks' }

export default async function Marks() {
  const person = await signedIn()
  const now = Date.now()
  const { zone } = await settings()
  const [marks, services] = await Promise.all([listMarks(database(), { from: now - 366 * DAY, to: now + 2 * DAY }), listServices(database())])
  const canMark = roleReaches(person, 'responder')
  const [last] = [...marks].reverse().filter((each) => each.at <= now)
  const nameOf = (key: string | null) => { const found = services.find((each) => each.key === key); return found ? speakService(found) : key }
  return (
    <>
      <RefreshOn topics={['definitions']} pause={800} />
      <FindOutHead title={last ? `The last change marked was ${last.title}, ${speakMoment(last.at, zone, now)}.` : 'No change is marked yet.'}>{canMark && <MarkForm services={services.map((each) => ({ key: each.key, name: speakService(each) }))} now={writeLocal(toLocal(now, zone))} />}</FindOutHead>
      <p className="quiet" style={{ margin: '0 0 10px' }}>Releases, changes and notes stand on every chart and in incidents that follow shortly after. A pipeline sets one by the API. Each can be judged: the same hours before and after it.</p>
      {marks.length === 0 ? <div className="card empty"><h2>Measure, change, measure.</h2><p className="quiet">Set a mark when something changes; a day later it says whether things became faster or slower, and at which locations.</p></div> : (
        <div className="card scroll"><table className="table">
          <thead><tr><th>When</th><th>What</th><th>Kind</th><th>Of</th><th>By</th><th /></tr></thead>
          <tbody>{[...marks].reverse().map((mark) => (
            <tr key={mark.id} className="opens"><td className="quiet" style={{ whiteSpace: 'nowrap' }}>{speakMoment(mark.at, zone, now)}</td><td><Link className="name" href={`/find-out/marks/${mark.id}`}>{mark.title}</Link>{mark.detail !== '' && <div className="quiet small">{mark.detail}</div>}</td><td>{mark.kind}</td>
              <td>{mark.check ?? nameOf(mark.service) ?? <span className="quiet">everything</span>}</td><td className="quiet">{mark.person ?? '—'}</td><td className="number"><Link href={`/find-out/marks/${mark.id}`}>Before and after</Link> {canMark && <RemoveMark id={mark.id} title={mark.title} />}</td></tr>
          ))}</tbody>
        </table></div>
      )}
    </>
  )
}
