import { speakDuration } from '@/core/definitions/duration'
import { speakService } from '@/core/definitions/service'
import { locationsOf, speakChoice, outside } from '@/core/places/places'
import { WEEKS } from '@/core/table/filter'
import { DAY } from '@/core/units'
import { allChecks } from '../../server/definitions'
import { whoIsTold } from '../../server/listeners'
import { signedIn } from '../../server/session'
import { listClients } from '@/store/clients'
import { database } from '@/store/database'
import { listLocations } from '@/store/locations'
import { listStates } from '@/store/states'
import { listSummaries } from '@/store/summaries'
import { listViews, tagColours, troubleCounts } from '@/store/views'
import { listServices } from '@/store/world'
import { RefreshOn } from '@/ui/live/live'
import { LinkButton } from '@/ui/shell/link-button'
import { SubNav } from '@/ui/shell/sub-nav'
import { CheckTable } from '@/ui/tables/check-table'
import type { CheckRow } from '@/ui/tables/row'

export const metadata = { title: 'Checks' }

export default async function Checks() {
  const now = Date.now()
  const person = await signedIn()
  const on = database()
  const [checks, services, states, summaries, locations, clients, colours, views, troubles] = await Promise.all([
    allChecks(), listServices(on), listStates(on), listSummaries(on, 'check'), listLocations(on), listClients(on), tagColours(on), listViews(on, person.id), troubleCounts(on, now - 7 * DAY)
  ])
  const heard = await whoIsTold(checks, services)
  const byKey = new Map(services.map((service) => [service.key, service]))
  const rows = checks.map((stored): CheckRow => {
    const { check } = stored
    const state = states.get(stored.id)
    const summary = summaries.get(stored.id)
    const service = byKey.get(check.service ?? '')
    return {
      key: check.key, name: check.name, address: stored.address, service: service ? speakService(service) : '', serviceKey: check.service ?? '', stage: service?.stage ?? '', client: service?.client ?? '', kind: check.kind,
      state: state?.state ?? 'nodata', since: state?.since ?? stored.createdAt, sentence: state?.sentence ?? '', muted: stored.mutedAt !== null, paused: stored.pausedAt !== null, importance: check.importance,
      every: speakDuration(check.every), from: speakChoice(check.from, locations), tags: check.tags, locations: locationsOf(check.from, locations).map((location) => location.key), overrides: stored.overrides, told: stored.mutedAt === null ? heard.keysOf(stored) : [], troubles: troubles.get(stored.id) ?? 0,
      ...(summary?.p95 === undefined ? {} : { p95: summary.p95 }), ...(summary?.usual === undefined ? {} : { usual: summary.usual }), ...(summary?.available.share === undefined ? {} : { available: summary.available.share })
    }
  })
  const troubled = rows.filter((row) => row.state !== 'up' && row.state !== 'paused').length
  const old = rows.filter((row) => row.state === 'down' && now - row.since >= WEEKS)
  const adding = <><LinkButton href="/many" quiet>Paste a list</LinkButton><LinkButton href="/import" quiet>Import a file</LinkButton></>
  if (rows.length === 0) return <><SubNav>{adding}</SubNav><div className="card empty"><h2>Nothing is watched yet.</h2><p className="quiet">The first check takes a minute.</p><LinkButton href="/checks/new" large>New check</LinkButton></div></>
  return (
    <>
      <RefreshOn topics={['state', 'definitions']} pause={2000} />
      <SubNav>{adding}</SubNav>
      <h1>{troubled === 0 ? `All ${rows.length} checks are as they should be.` : `${troubled} of ${rows.length} checks ${troubled === 1 ? 'is' : 'are'} not simply up.`}</h1>
      {old.length > 0 && <p style={{ margin: '6px 0 0' }}>{old.slice(0, 3).map((row) => row.name).join(', ')}{old.length > 3 && ` and ${old.length - 3} more`} {old.length === 1 ? 'has' : 'have'} been down for weeks. Moved, or retired? <a href="/checks?only=weeks">Look at {old.length === 1 ? 'it' : 'them'}</a></p>}
      <CheckTable rows={rows} now={now} services={services.map((service) => ({ key: service.key, name: speakService(service) }))} clients={clients} listeners={heard.listeners} colours={colours} views={views}
        locations={outside(locations).map(({ key, place, country, network, networkType }) => ({ key, place, country, network, networkType }))} />
    </>
  )
}
