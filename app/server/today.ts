import { speakMilliseconds } from '@/core/definitions/duration'
import { speakShift } from '@/core/patterns/level-shift'
import { speakDay } from '@/core/time/zoned'
import { blocksOf, type Block } from '@/core/ribbons/ribbon'
import type { CheckState } from '@/core/states/check-state'
import { DAY, HOUR, MINUTE } from '@/core/units'
import type { StoredCheck } from '@/store/checks'
import { allChecks } from './definitions'
import { database } from '@/store/database'
import { listIncidents } from '@/store/incidents'
import { locationsOf } from '@/core/places/places'
import { listLocations } from '@/store/locations'
import { listServices, type StoredService } from '@/store/world'
import { certificateEnds, listStates, listStretches } from '@/store/states'
import { listSummaries, type Summary } from '@/store/summaries'
import { occurrences } from '@/core/planned/recurrence'
import { nextWords } from './next-words'
import { gapsOf } from './routing-view'
import { shifts } from '@/core/rotas/rota'
import { readRoutingWorld } from '@/store/routing'
import { listPlanned } from '@/store/planned'
import { settings } from './session'

export interface ServiceLine {
  service: StoredService
  checks: number
  blocks: Block[]
  begins: number
  summary?: Summary
}

/** Everything Today shows, read in one go. */
export async function today(now: number) {
  const { zone } = await settings()
  const range = { from: now - DAY, to: now }
  const [checks, services, states, open, locations, summaries, ends, routing] = await Promise.all([
    allChecks(), listServices(database()), listStates(database()), listIncidents(database(), { open: true, limit: 200 }), listLocations(database()),
    listSummaries(database(), 'service'), certificateEnds(database()), readRoutingWorld(database())
  ])
  const stretches = await listStretches(database(), checks.map((check) => check.id), range)
  const counts: Partial<Record<CheckState, number>> = {}
  for (const check of checks) {
    const state = states.get(check.id)?.state ?? 'nodata'
    counts[state] = (counts[state] ?? 0) + 1
  }
  const places = new Map(checks.map((check) => [check.id, locationsOf(check.check.from, locations).length]))
  const lines: ServiceLine[] = services.map((service) => {
    const members = checks.filter((check) => check.serviceId === service.id)
    const ids = new Set(members.map((member) => member.id))
    return {
      service, checks: members.length, begins: Math.min(now, ...members.map((member) => member.createdAt)),
      blocks: blocksOf(stretches.filter((stretch) => ids.has(stretch.check)), range, 4 * MINUTE, (check) => places.get(check) ?? 1),
      ...(summaries.has(service.id) ? { summary: summaries.get(service.id)! } : {})
    }
  }).filter((line) => line.checks > 0)
  const newest = Math.max(0, ...[...states.values()].map((state) => state.newest ?? 0))
  return {
    zone, checks, open, counts, locations, lines, newest, calls: onCallNow(routing, now), next: await nextWords(open.map((each) => each.id)), gaps: await gapsOf(routing, services, checks, locations, now),
    loose: checks.filter((check) => check.serviceId === null), states,
    coming: comingUp(checks, ends, now), plans: await comingPlans(now), look: await worthALook(checks, states, zone, now)
  }
}

/** Planned work that is on or begins within two weeks, soonest first. */
async function comingPlans(now: number) {
  return (await listPlanned(database())).flatMap(({ planned, ends }) => occurrences(planned, { from: now, to: now + 14 * DAY }, ends).slice(0, 2).map((occurrence) => ({ title: planned.title, does: planned.does, ...occurrence })))
    .sort((a, b) => a.from - b.from).slice(0, 4)
}

/** Certificates that end within a month, the next one first, each host once. */
function comingUp(checks: StoredCheck[], ends: Map<number, number>, now: number) {
  const byHost = new Map<string, { host: string; key: string; at: number }>()
  for (const check of checks) {
    const at = ends.get(check.id)
    if (at === undefined || at > now + 30 * DAY) continue
    const host = URL.canParse(check.address) ? new URL(check.address).hostname : check.address
    const known = byHost.get(host)
    if (!known || at < known.at) byHost.set(host, { host, key: check.check.key, at })
  }
  return [...byHost.values()].sort((a, b) => a.at - b.at).slice(0, 4)
}

/** Checks that nobody has to be woken for, but somebody should look at: warnings, daily patterns, flapping, times that crept up. */
async function worthALook(checks: StoredCheck[], states: Awaited<ReturnType<typeof listStates>>, zone: string, now: number) {
  const incidents = await listIncidents(database(), { real: true, from: now - 7 * DAY, limit: 1000 })
  const summaries = await listSummaries(database(), 'check')
  const notes: { key: string; name: string; note: string; rank: number }[] = []
  for (const check of checks) {
    const state = states.get(check.id)
    const own = incidents.filter((incident) => incident.check === check.id)
    const untouched = own.filter((incident) => incident.holder === null && incident.closedAt !== null).length
    const { pattern, shift } = summaries.get(check.id) ?? {}
    const { key, name } = check.check
    if (state?.state === 'warning') notes.push({ key, name, note: state.sentence?.split(';')[0] ?? 'warning', rank: 3 })
    else if (untouched >= 5) notes.push({ key, name, note: `${own.length} incidents this week, nobody acted on ${untouched}`, rank: 2 + untouched / 100 })
    else if (shift && shift.after > shift.before) notes.push({ key, name, note: `slower: ${speakShift(shift, (at) => speakDay(at, zone), speakMilliseconds)}`, rank: 1.5 })
    else if (pattern) notes.push({ key, name, note: pattern, rank: 1 })
  }
  return notes.sort((a, b) => b.rank - a.rank).slice(0, 5)
}

export const RIBBON_RANGE = (now: number) => ({ from: now - 24 * HOUR, to: now })

/** Who is on call for each rota, and until when at most a week ahead. */
function onCallNow({ rotas, listening }: Awaited<ReturnType<typeof readRoutingWorld>>, now: number) {
  return rotas.map((rota) => {
    const [shift] = shifts(rota, { from: now, to: now + 7 * DAY })
    return { rota: rota.name, person: listening.people.find((each) => each.key === shift?.person)?.name, isCover: shift?.isCover ?? false, to: shift?.to ?? now }
  })
}
