import type { Pool } from '../store/database'
import { isSilent, judgeCheck } from '../core/states/check-state'
import type { Turn } from '../core/states/evaluate'
import type { CheckState } from '../core/states/check-state'
import { DAY, type Instant } from '../core/units'
import { transaction, type Queryable } from '../store/database'
import { dropOldEvents, note } from '../store/live'
import { keepPartitions } from '../store/migrate'
import { dropOldDeliveries } from '../store/deliveries'
import { dropEndedSessions } from '../store/people'
import { dropOldOrders } from '../store/probes'
import { dropOldRollups, dueWindows, rollUp } from '../store/rollups'
import { keptFor } from '../store/settings'
import { closeStretches, listMemories, listStates, openStretches, storeChanges, storeStates, type StoredState } from '../store/states'
import type { StoredCheck } from '../store/checks'
import type { Definitions } from './definitions'
import { stepIncident } from './incident-step'

/** Turns checks that were paused, resumed or fell silent. What observations decide is not decided here. */
export async function turnSilentAndPaused(pool: Pool, definitions: Definitions, share: (check: number) => boolean, now: Instant): Promise<number[]> {
  const states = await listStates(pool)
  const turned: number[] = []
  for (const stored of definitions.checks.values()) {
    if (!share(stored.id)) continue
    const state = states.get(stored.id)
    if (!state) continue
    const next = stateWithoutObservation(stored, state, now)
    if (next === undefined || next === state.state) continue
    await transaction(pool, (on) => turn(on, definitions, stored, state, next, now))
    turned.push(stored.id)
  }
  return turned
}

function stateWithoutObservation(stored: StoredCheck, state: StoredState, now: Instant): CheckState | undefined {
  if (stored.pausedAt !== null) return 'paused'
  if (state.state === 'paused') return 'nodata'
  const started = Math.max(stored.createdAt, state.state === 'nodata' ? 0 : state.since)
  return isSilent(state.newest ?? undefined, started, stored.check.every, stored.check.wait, now) ? 'nodata' : undefined
}

async function turn(on: Queryable, definitions: Definitions, stored: StoredCheck, state: StoredState, to: CheckState, now: Instant): Promise<void> {
  const memories = new Map((await listMemories(on, [stored.id])).map((each) => [each.location, each.memory]))
  const places = definitions.places.get(stored.id) ?? []
  const judgement = { ...judgeCheck(places.map((place) => memories.get(place)), stored.check), state: to }
  const sentence = to === 'paused' ? 'paused by a person' : to === 'nodata' && state.state !== 'paused' ? 'no observation has come from any location' : 'waiting for the first observation'
  const since = to === 'nodata' && state.newest !== null && state.state !== 'paused' ? Math.max(state.since, state.newest) : now
  const change: Turn = { from: state.state, to, since, at: now, judgement }
  await storeChanges(on, [{ check: stored.id, decided: now, since, lastPass: null, from: state.state, to, reason: null, sentence, failing: 0, locations: places.length }])
  await storeStates(on, [{ ...state, state: to, since, lastPass: null, reason: null, sentence, failing: 0, suspecting: 0 }])
  await closeStretches(on, (['fail', 'slow', 'warn', 'silent'] as const).map((kind) => ({ check: stored.id, kind, to: since })))
  if (to === 'nodata') await openStretches(on, places.map((location) => ({ check: stored.id, location, kind: 'silent', from: since })))
  const incident = await stepIncident(on, definitions, stored, change, new Map(), now)
  await note(on, [{ topic: 'state', subject: stored.id }, ...(incident === undefined ? [] : [{ topic: 'incident' as const, subject: incident }])], now)
}

/** Rolls up windows that have ended. Gives how many there were. */
export async function rollUpDue(pool: Pool, now: Instant): Promise<number> {
  const due = await dueWindows(pool, now, 200)
  if (due.length > 0) await transaction(pool, (on) => rollUp(on, due))
  return due.length
}

/** Makes partitions ahead, drops what is past its retention and orders nobody answers. */
export async function tidy(pool: Pool, definitions: Definitions, now: Instant): Promise<void> {
  const { keep } = definitions.settings
  await keepPartitions(pool, now, { observation: keptFor(keep.observation), evidence: keptFor(keep.evidence) })
  await dropOldOrders(pool, now)
  await dropOldEvents(pool, now - 10 * 60_000)
  await dropOldDeliveries(pool, now - keep.delivery * DAY)
  await dropEndedSessions(pool, now)
  await dropOldRollups(pool, '5m', now - keep.rollup5m * DAY)
  await dropOldRollups(pool, '1h', now - keep.rollup1h * DAY)
  await dropOldRollups(pool, '1d', now - keep.rollup1d * DAY)
}
