import { outside } from '@/core/places/places'
import Link from 'next/link'
import { speakMilliseconds } from '@/core/definitions/duration'
import { MINUTE } from '@/core/units'
import { database } from '@/store/database'
import { listLocations } from '@/store/locations'
import { listProbes, type Probe } from '@/store/probes'
import { RefreshOn } from '@/ui/live/live'
import { Lasting, Moment } from '@/ui/marks/moment'
import { landPath } from '@/ui/places/land'
import { BLANK, LocationForm } from '@/ui/places/location-form'
import { WorldMap } from '@/ui/places/world-map'
import { SubNav } from '@/ui/shell/sub-nav'
import { settings } from '../../server/session'

export const metadata = { title: 'Locations' }

/** A probe says how it is every five seconds; after this it is silent. */
const SILENT = MINUTE / 2

export default async function Locations({ searchParams }: { searchParams: Promise<{ edit?: string; add?: string }> }) {
  const { edit, add } = await searchParams
  const now = Date.now()
  const { address } = await settings()
  const [all, probes] = await Promise.all([listLocations(database()), listProbes(database())])
  const locations = outside(all)
  const lines = locations.map((location) => {
    const own = probes.filter((probe) => probe.locations.includes(location.id))
    const alive = own.filter((probe) => probe.seenAt !== null && now - probe.seenAt < SILENT)
    return { location, own, alive, trouble: location.cutSince !== null || alive.length === 0 }
  })
  const silent = lines.filter((line) => line.alive.length === 0)
  const cut = lines.filter((line) => line.location.cutSince !== null && line.alive.length > 0)
  const land = landPath()
  const chosen = locations.find((location) => location.key === edit)
  const url = address || 'http://127.0.0.1:4100'
  return (
    <>
      <RefreshOn topics={['state', 'definitions', 'check']} pause={5000} />
      <SubNav><Link href="/locations?add=1" className="strong">Add a location</Link></SubNav>
      <h1>{cut.length + silent.length === 0 ? `All ${locations.length} locations work.` : [cut.length > 0 ? `${cut.map((line) => line.location.place).join(', ')} ${cut.length === 1 ? 'has' : 'have'} lost ${cut.length === 1 ? 'its' : 'their'} own line` : '', silent.length > 0 ? `no probe speaks at ${silent.slice(0, 4).map((line) => line.location.place).join(', ')}${silent.length > 4 ? ` and ${silent.length - 4} more` : ''}` : ''].filter(Boolean).join('; ').replace(/^./, (letter) => letter.toUpperCase()).concat('.')}</h1>
      <p className="quiet" style={{ margin: '4px 0 10px' }}>A location without its line proves nothing: what fails there neither counts nor alerts. A silent probe is no dead server; its checks have no data.</p>
      {(chosen || add !== undefined) && <div style={{ marginBottom: 14 }}><LocationForm key={edit ?? 'new'} first={chosen ? { ...BLANK, ...chosen } : BLANK} {...(chosen ? { locationKey: chosen.key } : {})} url={url} land={land} /></div>}
      <div style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 14 }}>
        <div className="card scroll"><table className="table">
          <thead><tr><th>Location</th><th>Network</th><th>Line</th><th>Probes</th><th className="number">Version</th><th className="number">Checks</th><th className="number">Late, p99</th><th className="number">Clock</th><th className="number">Waiting</th><th>Last heard</th><th /></tr></thead>
          <tbody>{lines.map(({ location, own, alive }) => (
            <tr key={location.id}>
              <td><b>{location.place}</b> <span className="quiet small">{location.country}</span></td><td>{location.network} <span className="quiet small">{location.networkType}{location.proxy !== null && ', through a proxy'}</span></td>
              <td>{location.cutSince !== null ? <b className="down-text">cut off since <Moment at={location.cutSince} now={now} /></b> : location.references.length === 0 ? <span className="quiet">not watched</span> : <span className="quiet">works</span>}</td>
              <td>{own.length === 0 ? <b className="slow-text">none</b> : alive.length === own.length ? own.length : <b className="slow-text">{alive.length} of {own.length} speak</b>}</td>
              <Health probes={alive} now={now} last={Math.max(0, ...own.map((probe) => probe.seenAt ?? 0))} />
              <td className="number"><Link href={`/locations?edit=${location.key}`}>Change</Link></td>
            </tr>
          ))}</tbody>
        </table></div>
        <div className="card" style={{ padding: 8 }}><WorldMap land={land} dots={lines.flatMap(({ location, trouble }) => (location.latitude === null || location.longitude === null ? [] : [{ key: location.key, name: `${location.place}, ${location.network}`, latitude: location.latitude, longitude: location.longitude, trouble }]))} /></div>
      </div>
    </>
  )
}

function Health({ probes, now, last }: { probes: Probe[]; now: number; last: number }) {
  const worst = (pick: (probe: Probe) => number | null) => probes.reduce<number | null>((most, probe) => { const value = pick(probe); return value === null || (most !== null && Math.abs(most) >= Math.abs(value)) ? most : value }, null)
  const [lateness, clock, backlog] = [worst((probe) => probe.lateness), worst((probe) => probe.clockOffset), worst((probe) => probe.backlog)]
  return (
    <>
      <td className="number">{[...new Set(probes.map((probe) => probe.version))].join(', ')}</td>
      <td className="number">{probes.length === 0 ? '' : probes.reduce((sum, probe) => sum + (probe.checks ?? 0), 0)}</td>
      <td className="number">{lateness === null ? '' : speakMilliseconds(lateness)}</td>
      <td className={clock !== null && Math.abs(clock) > 1000 ? 'number slow-text strong' : 'number'}>{clock === null ? '' : `${clock > 0 ? '+' : clock < 0 ? '−' : ''}${speakMilliseconds(Math.abs(clock))}`}</td>
      <td className={backlog ? 'number slow-text strong' : 'number'}>{backlog === null ? '' : backlog}</td>
      <td>{last === 0 ? <span className="slow-text">never</span> : <Lasting since={last} first={now} suffix=" ago" />}</td>
    </>
  )
}
