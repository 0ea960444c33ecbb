import type { Pool } from 'mysql2/promise'
import { speakLength } from '../../src/core/definitions/duration'
import { speakPlaces } from '../../src/core/incidents/incident'
import type { Turn } from '../../src/core/states/evaluate'
import { MINUTE, SECOND, type Instant } from '../../src/core/units'
import type { StoredCheck } from '../../src/store/checks'
import { addEvent, endIncident, openIncident } from '../../src/store/incidents'
import { rehearse } from '../../src/core/routing/rehearse'
import { subjectOf } from '../../src/core/routing/fits'
import { listLocations } from '../../src/store/locations'
import { readRoutingWorld } from '../../src/store/routing'
import { listServices } from '../../src/store/world'
import { recordDeliveries, setHolder } from '../../src/store/incident-history'
import { seeded } from '../world/random'

const isTrouble = (state: string): state is 'down' | 'slow' => state === 'down' || state === 'slow'

/** Turns the state changes of the past into incidents with the events they would have had. */
export async function makeIncidents(pool: Pool, all: { check: number; turns: Turn[] }[], checks: StoredCheck[], now: Instant): Promise<void> {
  const routing = await readRoutingWorld(pool)
  const services = new Map((await listServices(pool)).map((each) => [each.key, each]))
  const [place] = await listLocations(pool)
  const troubles = all.flatMap(({ check, turns }) => turns.flatMap((turn, index) => {
    const begins = isTrouble(turn.to) && !isTrouble(turn.from)
    const end = turns.slice(index + 1).find((later) => !isTrouble(later.to))
    return begins && isTrouble(turn.to) ? [{ check: checks.find((stored) => stored.id === check)!, turn, trouble: turn.to, end }] : []
  })).sort((a, b) => a.turn.at - b.turn.at)
  for (const { check, turn, trouble, end } of troubles) {
    const { judgement } = turn
    const id = await openIncident(pool, {
      check: check.id, trouble, openedAt: turn.at, since: turn.since, lastPass: judgement.lastPass ?? null, reason: judgement.reason ?? null,
      sentence: judgement.sentence ?? trouble, failing: trouble === 'down' ? judgement.failing : judgement.needed, locations: judgement.locations
    })
    await addEvent(pool, id, { at: turn.since, kind: 'first-failure', title: trouble === 'down' ? 'First failure' : 'First slow', detail: judgement.sentence ?? '' })
    await addEvent(pool, id, trouble === 'down'
      ? { at: turn.at, kind: 'called-down', title: 'Called down', detail: `${check.check.down.tries} tries failed ${speakPlaces(judgement.failing, judgement.locations)}` }
      : { at: turn.at, kind: 'called-slow', title: 'Called slow', detail: judgement.sentence ?? '' })
    const random = seeded(99, id)
    const until = end?.at ?? now
    const taken = turn.at + 2 * MINUTE + Math.floor(random() * 6 * MINUTE)
    const service = services.get(check.check.service ?? '')
    const subject = subjectOf(check.check, service, { state: trouble, at: turn.at, failing: [{ key: place!.key, network: place!.network }] })
    const isTaken = check.document.importance !== 'low' && taken < until
    const { steps } = rehearse(routing.routes, routing.listening, subject, { lasts: until - turn.at, ...(isTaken ? { takenAfter: taken - turn.at } : {}) })
    await recordDeliveries(pool, id, trouble, `${check.check.name} is ${trouble}`, steps.flatMap(({ at, route, step, round, receivers }) => receivers.map((each) => ({
      at, key: `${route}/${step}/${round}/${each.channel}`, channel: each.channel, person: each.person ?? null, took: 300 + Math.floor(random() * 900),
      cause: `Route ${routing.routes.findIndex((other) => other.key === route) + 1}${(routing.routes.find((other) => other.key === route)?.then.length ?? 1) > 1 ? `, step ${step + 1}` : ''}`
    }))))
    const told = steps.flatMap((step) => (step.at <= taken ? step.receivers : [])).find((each) => each.person !== undefined)
    const holder = routing.listening.people.find((each) => each.id === told?.person)
    if (isTaken && holder) {
      await setHolder(pool, id, holder.id, taken)
      await addEvent(pool, id, { at: taken, kind: 'taken', person: holder.id, title: `${holder.name} took it` })
    }
    if (end) {
      await endIncident(pool, id, trouble === 'down' ? end.lastFail ?? null : null, end.since, end.at + SECOND)
      await addEvent(pool, id, { at: end.at, kind: 'over', title: 'Up again', detail: `after ${speakLength(end.since - turn.since)}` })
    }
  }
}
