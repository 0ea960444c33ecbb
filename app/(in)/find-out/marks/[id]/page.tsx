import { notFound } from 'next/navigation'
import { speakLength, speakMilliseconds } from '@/core/definitions/duration'
import { speakBeforeAfter, type Compared } from '@/core/marks/before-after'
import { HemeronError } from '@/core/problems'
import { speakExactly, speakMoment } from '@/core/time/zoned'
import { database } from '@/store/database'
import { requireMark } from '@/store/marks'
import { SeriesKey } from '@/ui/charts/series-key'
import { LazyDistributions } from '@/ui/charts/lazy-distributions'
import { FindOutHead } from '@/ui/findout/find-out-nav'
import { beforeAfterView } from '../../../../server/before-after-view'
import { settings, signedIn } from '../../../../server/session'

export const metadata = { title: 'Before and after' }

export default async function BeforeAndAfter({ params }: { params: Promise<{ id: string }> }) {
  await signedIn()
  const now = Date.now()
  const mark = await requireMark(database(), Number((await params).id)).catch((error: unknown) => {
    if (error instanceof HemeronError && error.code === 'not-found') notFound()
    throw error
  })
  const { zone } = await settings()
  const { found, before, after, distribution, places, checks } = await beforeAfterView(mark, now)
  const stretch = ({ from, to }: { from: number; to: number }) => `${speakMoment(from, zone, now)} to ${speakMoment(to, zone, now)}`
  const percent = (share: number) => `${(100 * share).toFixed(share > 0 && share < 0.0995 ? 2 : 1)}%`
  return (
    <>
      <FindOutHead title={`${mark.title}: ${speakBeforeAfter(found, speakMilliseconds)}`} />
      <p style={{ margin: '0 0 12px' }}>Set {speakExactly(mark.at, zone)}{mark.person ? ` by ${mark.person}` : ''}{mark.detail === '' ? '' : `: ${mark.detail}`}. {after.to > after.from && <>Compared are the {speakLength(after.to - after.from)} after it ({stretch(after)}) and the same hours before ({stretch(before)}), over {checks} {checks === 1 ? 'check' : 'checks'}.</>}</p>
      <div className="detail">
        <section style={{ minWidth: 0 }}>
          <div className="apart" style={{ marginBottom: 6 }}><h2>Response times</h2><SeriesKey before={`before, ${found.tries.before} tries`} after={`after, ${found.tries.after} tries`} /></div>
          <div className="card" style={{ padding: '8px 4px' }}>{distribution.length === 0 ? <p className="quiet" style={{ padding: 12 }}>Nothing was observed on either side.</p> : <LazyDistributions points={distribution} />}</div>
          <p className="quiet small">Medians with the middle 95 % of {400} draws over stretches of time; a difference counts when that range leaves out zero and is worth 2 % at least. Failing: {percent(found.failing.before)} before, {percent(found.failing.after)} after{found.failing.change === 'no difference' ? ', no difference beyond chance' : ''}.</p>
        </section>
        <section style={{ minWidth: 0 }}>
          <h2 style={{ marginBottom: 6 }}>By location</h2>
          <div className="card scroll"><table className="table"><thead><tr><th>Location</th><th className="number">Before</th><th className="number">After</th><th className="number">Difference</th></tr></thead>
            <tbody>{found.locations.map((each) => <tr key={each.location}><td><b>{places.get(each.location)?.place ?? 'a removed location'}</b> <span className="quiet small">{places.get(each.location)?.network}</span></td><td className="number">{each.before === undefined ? '—' : speakMilliseconds(each.before)}</td><td className="number">{each.after === undefined ? '—' : speakMilliseconds(each.after)}</td><Difference {...each} /></tr>)}</tbody></table></div>
        </section>
      </div>
    </>
  )
}

function Difference({ change, low, high }: Compared) {
  if (change === 'too few') return <td className="number quiet">too few to judge</td>
  const signed = (value: number) => `${value < 0 ? '−' : '+'}${speakMilliseconds(Math.abs(value))}`
  return <td className={`number${change === 'slower' ? ' slow-text strong' : change === 'faster' ? ' strong' : ' quiet'}`} title={`between ${signed(low!)} and ${signed(high!)}`}>{change === 'no difference' ? change : `${change}, ${signed(low!)} to ${signed(high!)}`}</td>
}
