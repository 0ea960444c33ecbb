import Link from 'next/link'
import { notFound } from 'next/navigation'
import { speakMilliseconds } from '@/core/definitions/duration'
import { speakShare } from '@/core/definitions/share'
import { speakThrough, type ThroughRow } from '@/core/places/through'
import { HemeronError } from '@/core/problems'
import { FindOutHead } from '@/ui/findout/find-out-nav'
import { RefreshOn } from '@/ui/live/live'
import { Ribbon } from '@/ui/ribbon/ribbon'
import { networkView } from '../../../../server/network-view'
import { signedIn } from '../../../../server/session'

export async function generateMetadata({ params }: { params: Promise<{ name: string }> }) {
  return { title: decodeURIComponent((await params).name) }
}

const times = (change: number | undefined) => (change === undefined ? '—' : Math.abs(change - 1) < 0.05 ? 'as before' : `${change > 1 ? '+' : '−'}${Math.round(100 * Math.abs(change - 1))}%`)
const MOST = 40

/** A network over all checks: what goes through it, beside what goes through the others. */
export default async function Network({ params }: { params: Promise<{ name: string }> }) {
  await signedIn()
  const name = decodeURIComponent((await params).name)
  const now = Date.now()
  const view = await networkView(name, now).catch((error: unknown) => {
    if (error instanceof HemeronError && error.code === 'not-found') notFound()
    throw error
  })
  const shown = view.rows.filter((row) => row.own.now.tries > 0)
  return (
    <>
      <RefreshOn topics={['state']} pause={30_000} />
      <FindOutHead title={speakThrough(name, view.rows)} />
      <p style={{ margin: '0 0 12px' }}>{view.locations[0]!.networkType[0]!.toUpperCase()}{view.locations[0]!.networkType.slice(1)} network, seen from {view.locations.map((each) => each.place).join(', ')}. {view.party ? <>Party {view.party.name}{view.party.contact ? `, ${view.party.contact}` : ', without a contact'}.</> : <>It belongs to no <Link href="/find-out/parties">party</Link> yet.</>} Packets lost beside web checks: {speakShare(view.loss.now)} in the last hour, {speakShare(view.loss.before)} in the day before; {speakShare(view.loss.others)} through the others. <Link href={`/find-out?by=check&where=${encodeURIComponent(`network:${name}`)}`}>Ask about it</Link>, or <Link href={`/find-out/places?network=${encodeURIComponent(name)}&all=1`}>see its latest times</Link>.</p>
      <div className="detail">
        <section style={{ minWidth: 0 }}>
          <div className="apart" style={{ marginBottom: 6 }}><h2>Checks through it, worst first</h2><span className="quiet small">p75 of the last hour beside the day before</span></div>
          <div className="card scroll"><table className="table">
            <thead><tr><th>Check</th><th className="number">Last hour</th><th className="number">Before</th><th className="number">Change</th><th className="number">Elsewhere</th><th className="number">Failing</th></tr></thead>
            <tbody>{shown.slice(0, MOST).map((row) => <CheckLine key={row.key} row={row} network={name} />)}</tbody>
          </table></div>
          {shown.length > MOST && <p className="quiet small" style={{ margin: '6px 0 0' }}>The worst {MOST} are shown; {shown.length - MOST} more are not.</p>}
        </section>
        <section style={{ minWidth: 0 }}>
          <div className="apart" style={{ marginBottom: 6 }}><h2>Day by day</h2><span className="quiet small">the share of checks in trouble through it</span></div>
          <div className="card pad">
            {view.days.map((day, index) => (
              <div key={day.name} style={{ display: 'grid', gridTemplateColumns: '56px 1fr', alignItems: 'end', gap: 4 }}>
                <span className={index === 0 ? 'small strong' : 'small quiet'}>{day.name}</span><Ribbon blocks={day.blocks} range={day.range} now={now} height={18} label={day.name} />
              </div>
            ))}
            <div className="small quiet" style={{ display: 'grid', gridTemplateColumns: '56px repeat(4, 1fr)', marginTop: 4 }}><span /><span>00:00</span><span>06:00</span><span>12:00</span><span>18:00</span></div>
          </div>
        </section>
      </div>
    </>
  )
}

function CheckLine({ row, network }: { row: ThroughRow & { key: string; name: string }; network: string }) {
  const { own, change, othersChange, isWorse } = row
  const speak = (p75: number | undefined) => (p75 === undefined ? '—' : speakMilliseconds(p75))
  return (
    <tr>
      <td><Link className="name" href={`/find-out?by=network&for=check/${row.key}&over=24h`} title={`${row.name} by network`}>{row.name}</Link>{isWorse && <span className="sr"> is worse through {network}</span>}</td>
      <td className={`number${isWorse && (change ?? 1) > 1.3 ? ' slow-text strong' : ''}`}>{speak(own.now.p75)}</td><td className="number quiet">{speak(own.before.p75)}</td><td className={`number${isWorse && (change ?? 1) > 1.3 ? ' slow-text strong' : ''}`}>{times(change)}</td><td className="number quiet">{times(othersChange)}</td>
      <td className={`number${own.now.fails > 0 ? ' down-text' : ''}`}>{own.now.fails === 0 ? '0' : `${own.now.fails} of ${own.now.tries}`}</td>
    </tr>
  )
}
