import { BURN_LOOKS_BACK, exhaustedIn, fastBurn, speakBurn } from '../core/availability/burn'
import { speakLength } from '../core/definitions/duration'
import { formatShare } from '../core/definitions/share'
import type { Instant } from '../core/units'
import type { StoredCheck } from '../store/checks'
import { transaction, type Pool } from '../store/database'
import { addEvent, burningServices, endIncident, openBurn, openBurnOf, requireIncident } from '../store/incidents'
import { note } from '../store/live'
import { stateSpans } from '../store/states'
import { listSummaries } from '../store/summaries'
import type { StoredService } from '../store/world'
import type { Definitions } from './definitions'
import { isToldOf, tellBeginning, tellEnd } from './tell-step'

/** Opens an incident of a service that uses up its error budget too fast, where a route tells of that, and ends it when the pace is fine again. */
export async function followBurns(pool: Pool, definitions: Definitions, now: Instant): Promise<void> {
  const burning = await burningServices(pool)
  const isTold = definitions.routing.routes.some((route) => route.when.state?.includes('burn'))
  for (const service of definitions.services.values()) {
    if (!burning.has(service.id) && (!isTold || service.objective === undefined)) continue
    const members = [...definitions.checks.values()].filter((stored) => stored.serviceId === service.id && stored.mutedAt === null)
    await followBurn(pool, definitions, service, members, now)
  }
}

async function followBurn(pool: Pool, definitions: Definitions, service: StoredService, members: StoredCheck[], now: Instant): Promise<void> {
  const spans = await stateSpans(pool, members.map((each) => each.id), { from: now - BURN_LOOKS_BACK, to: now })
  const found = service.objective && fastBurn(members.map((each) => spans.get(each.id) ?? []), service.objective.available, now)
  const left = found && (await listSummaries(pool, 'service')).get(service.id)?.budget
  await transaction(pool, async (on) => {
    const open = await openBurnOf(on, service.id)
    if (!found === !open) return
    if (open) {
      await endIncident(on, open.id, null, now, now)
      await addEvent(on, open.id, { at: now, kind: 'over', title: 'The pace is fine again' })
      const leading = definitions.checks.get(open.check)
      if (leading) await tellEnd(on, definitions, leading, await requireIncident(on, open.id), new Map(), now)
      return note(on, [{ topic: 'incident', subject: open.id }], now)
    }
    const { available, over } = service.objective!
    const sentence = speakBurn(found!, formatShare(available), left === undefined ? undefined : exhaustedIn(left, over, found!.rate), speakLength)
    const worst = members[found!.worst]!
    if (!(await isToldOf(on, definitions, worst, 'burn', new Map(), now))) return
    const id = await openBurn(on, service.id, worst.id, sentence, now)
    await addEvent(on, id, { at: now, kind: 'called-burn', title: 'Its error budget is used up too fast', detail: `${sentence}; most of it by ${worst.check.name}` })
    await tellBeginning(on, definitions, worst, await requireIncident(on, id), new Map(), now)
    await note(on, [{ topic: 'incident', subject: id }], now)
  })
}
