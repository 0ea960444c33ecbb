import Link from 'next/link'
import { speakService } from '@/core/definitions/service'
import { listServices } from '@/store/world'
import { speakMilliseconds } from '@/core/definitions/duration'
import { gridOf, placeTrouble, type GridCell } from '@/core/places/grid'
import { locationsOf, outside } from '@/core/places/places'
import { shortReason } from '@/core/reasons/reasons'
import { speakClock } from '@/core/time/zoned'
import { signedName } from '@/core/inside/signed-name'
import { listBoards } from '@/store/boards'
import { database } from '@/store/database'
import { roleReaches } from '@/store/people'
import { BoardForm, RemoveBoard } from '@/ui/places/board-form'
import { listLocations } from '@/store/locations'
import { listMemories } from '@/store/states'
import { FindOutHead } from '@/ui/findout/find-out-nav'
import { RefreshOn } from '@/ui/live/live'
import { landPath } from '@/ui/places/land'
import { WorldMap } from '@/ui/places/world-map'
import { allChecks } from '../../../server/definitions'
import { settings, signedIn } from '../../../server/session'

export const metadata = { title: 'Places' }

export default async function Places({ searchParams }: { searchParams: Promise<{ all?: string; service?: string; network?: string }> }) {
  const canEdit = roleReaches(await signedIn(), 'editor')
  const { all: wantsAll, service, network } = await searchParams
  const { zone, linkKey } = await settings()
  const [boards, services] = await Promise.all([listBoards(database()), listServices(database())])
  const checks = (await allChecks()).filter(({ check, pausedAt }) => !check.isInside && pausedAt === null && (service === undefined || check.service === service))
  const everywhere = await listLocations(database())
  const locations = outside(everywhere).filter((each) => network === undefined || each.network === network)
  const memories = await listMemories(database(), checks.map((each) => each.id))
  const byPair = new Map(memories.map((each) => [`${each.check}/${each.location}`, each]))
  const runs = new Map(checks.map((stored) => [stored.id, new Set(locationsOf(stored.check.from, everywhere).map((each) => each.id))]))
  const rows = gridOf(checks, locations.map((each) => each.id), (stored, location): GridCell | undefined => {
    const found = runs.get(stored.id)!.has(location) ? byPair.get(`${stored.id}/${location}`) : undefined
    if (!found) return undefined
    const { last, memory } = found
    return { verdict: last.verdict, total: last.total, at: last.at, failing: memory.failing, slow: memory.slow, ...(last.reason === undefined ? {} : { reason: last.reason }), ...(last.status === undefined ? {} : { status: last.status }) }
  })
  const bad = rows.filter((row) => row.rank > 0)
  const shown = wantsAll ? rows : bad
  const troubles = locations.map((_, column) => placeTrouble(rows, column))
  const worst = locations.map((place, column) => ({ place, ...troubles[column]! })).filter((each) => each.bad > 0 || each.slow > 1).sort((a, b) => b.bad - a.bad || b.slow - a.slow)
  const land = landPath()
  const choices = { checks: checks.map(({ check, serviceId }) => { const of = services.find((each) => each.id === serviceId); return { key: check.key, name: of ? `${check.name}, ${speakService(of)}` : check.name } }), locations: locations.map((each) => ({ key: each.key, name: each.place })) }
  return (
    <>
      <RefreshOn topics={['check', 'state']} pause={2000} />
      <FindOutHead title={bad.length === 0 ? `All ${rows.length} checks pass at all ${locations.length} locations.` : `${bad.length} of ${rows.length} checks are not as they should be somewhere${worst[0] && worst[0].bad > 0 ? `; worst seen from ${worst[0].place.place}` : ''}.`}>{canEdit && <BoardForm {...choices} />}</FindOutHead>
      <div className="detail" style={{ gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)' }}>
        <div className="card" style={{ padding: 8 }}><WorldMap land={land} dots={locations.flatMap((place, column) => (place.latitude === null || place.longitude === null ? [] : [{ key: place.key, name: `${place.place}, ${place.network}`, latitude: place.latitude, longitude: place.longitude, trouble: troubles[column]!.bad > 0 }]))} /></div>
        <section style={{ minWidth: 0 }}><h2 style={{ marginBottom: 6 }}>Networks with trouble</h2><div className="card scroll"><table className="table"><tbody>
          {worst.length === 0 ? <tr><td className="quiet">None. Every network sees what it should.</td></tr> : worst.slice(0, 8).map(({ place, bad: fails, slow, all }) => <tr key={place.id}><td><Link className="name" href={`/find-out/networks/${encodeURIComponent(place.network)}`}>{place.network}</Link> <span className="quiet small">{place.place}</span></td><td className="number">{fails > 0 && <span className="down-text">{fails} of {all} fail</span>}{fails > 0 && slow > 0 && ', '}{slow > 0 && <span className="slow-text">{slow} slow</span>}</td></tr>)}
        </tbody></table></div></section>
      </div>
      {boards.length > 0 && <p className="small" style={{ margin: '12px 0 0' }}><b>Boards</b>, for a wall or by link: {boards.map((board, index) => <span key={board.id}>{index > 0 && ', '}<a href={`/board/${signedName('board', String(board.id), linkKey)}`} target="_blank" rel="noreferrer">{board.name}</a>{canEdit && <BoardForm {...choices} board={board} />}{canEdit && <RemoveBoard id={board.id} name={board.name} />}</span>)}</p>}
      <section className="section">
        <div className="apart" style={{ marginBottom: 6 }}><h2>Checks by locations, worst first</h2><span className="small"><Link href={`/find-out/places?${new URLSearchParams({ ...(service ? { service } : {}), ...(network ? { network } : {}), ...(wantsAll ? {} : { all: '1' }) }).toString()}`}>{wantsAll ? 'Only those with trouble' : `Show all ${rows.length}`}</Link></span></div>
        <div className="card scroll" tabIndex={0} role="group" aria-label="Checks by locations"><table className="table" style={{ fontSize: 13 }}>
          <thead><tr><th style={{ minWidth: 170 }}>Check</th>{locations.map((place) => <th key={place.id} className="number" title={`${place.network}, ${place.networkType}`}>{place.place}</th>)}</tr></thead>
          <tbody>{shown.map(({ check: { check }, cells }) => (
            <tr key={check.key}><td><Link className="name" href={`/checks/${check.key}`}>{check.name}</Link></td>{cells.map((cell, column) => <Cell key={column} cell={cell} href={cell && `/observations/${check.key}/${locations[column]!.key}/${cell.at}`} zone={zone} />)}</tr>
          ))}
          {!wantsAll && <tr><td className="quiet" colSpan={locations.length + 1}>{rows.length - bad.length} {rows.length - bad.length === 1 ? 'check passes' : 'checks pass'} at every location.</td></tr>}</tbody>
        </table></div>
      </section>
    </>
  )
}

function Cell({ cell, href, zone }: { cell: GridCell | undefined; href: string | undefined; zone: string }) {
  if (!cell || !href) return <td className="number quiet">–</td>
  const said = cell.verdict === 'fail' ? (cell.reason === 'status' && cell.status ? String(cell.status) : shortReason(cell.reason)) : speakMilliseconds(cell.total)
  return <td className="number" style={{ whiteSpace: 'normal', background: cell.failing ? 'var(--down-soft)' : undefined }}><Link href={href} title={speakClock(cell.at, zone)} className={cell.verdict === 'fail' ? 'down-text strong' : cell.slow || cell.verdict === 'slow' ? 'slow-text strong' : cell.verdict === 'warn' ? 'slow-text' : 'quiet'} style={{ textDecoration: 'none' }}>{said}</Link></td>
}
