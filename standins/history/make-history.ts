import type { Pool } from 'mysql2/promise'
import type { Check } from '../../src/core/definitions/check'
import type { Observation } from '../../src/core/observation'
import { PHASES, VERDICTS } from '../../src/core/observation'
import { evaluate, type Known, type Turn } from '../../src/core/states/evaluate'
import { beatsOf, periodOf, phaseOf } from '../../src/core/schedule/next-run'
import { spread } from '../../src/core/schedule/spread'
import { dayStart } from '../../src/core/time/zoned'
import { DAY, HOUR, MINUTE, type Instant } from '../../src/core/units'
import type { HttpTarget } from '../../src/kinds/http/target'
import { packTries } from '../../src/core/replay/pack'
import { loadDays, loadObservations, loadWindows } from '../../src/store/bulk-load'
import { listChecks } from '../../src/store/checks'
import { INSIDE, locationsOf } from '../../src/core/places/places'
import { listLocations } from '../../src/store/locations'
import { keepPartitions } from '../../src/store/migrate'
import { numberTexts, textsOfAll } from '../../src/store/observations'
import { emptyWindow, METRICS, SPANS, windowRow, type Window } from '../../src/store/rollups'
import { encodeValues, mergeEncoded } from '../../src/core/sketches/sketch'
import { markDaySheets, markSheets } from '../../src/store/sheet-marks'
import { openStretches, storeChanges, storeMemories, storeStates, type LastSeen } from '../../src/store/states'
import type { Stretch } from '../../src/core/ribbons/ribbon'
import { pastFaults, ZONE, type Drill } from '../world/faults'
import { HOSTS } from '../world/hosts'
import { PLACES, type Place } from '../world/places'
import { makeIncidents } from './make-incidents'
import { sample, sampled } from './sample'
import { roundsOf } from './sample-rounds'

/** Single observations and five-minute windows are kept for the newest days only; hours and days for all of them. */
const RAW_DAYS = 3
const FINE_HOURS = 26

/** Makes the recorded past of every check: observations, windows, states, stretches and incidents, all from the model. */
export async function makeHistory(pool: Pool, now: Instant, days: number, say: (text: string) => void): Promise<void> {
  const today = dayStart(now, ZONE)
  const from = today - (days - 1) * DAY
  await keepPartitions(pool, now, { observation: 100 * DAY, evidence: 100 * DAY }, now - (RAW_DAYS + 1) * DAY)
  const locations = await listLocations(pool)
  const spans = pastFaults(today, days).filter((span) => span.from < now)
  const checks = await listChecks(pool)
  const incidents: { check: number; turns: Turn[] }[] = []
  let storing: Promise<void> = Promise.resolve()
  for (const [index, stored] of checks.entries()) {
    const order = spread(locationsOf(stored.check.from, locations), stored.id)
    const past = new Past(samplerOf(stored.id, stored.check, stored.address), new Map(order.map((location) => [location.id, placeOf(location.key)])), order.map((location) => location.id), from, now, activeFaults(spans))
    past.run()
    await storing
    storing = store(pool, past)
    incidents.push({ check: stored.id, turns: past.turns })
    if (index % 9 === 8) say(`past of ${index + 1} of ${checks.length} checks`)
  }
  await storing
  await markSheets(pool, Array.from({ length: FINE_HOURS * 12 }, (_, index) => now - index * 5 * MINUTE))
  await markDaySheets(pool, Array.from({ length: days }, (_, index) => now - index * DAY))
  await makeIncidents(pool, incidents, checks, now)
}

/** The place of a location; what is judged inside stands in the harbour office. */
const placeOf = (key: string): Place => PLACES.find((place) => place.key === (key === INSIDE ? 'orrin-harbour' : key))!

/** How tries of a check went in the past: as the web servers of the world answer, or by the rounds its protocol needs. */
function samplerOf(id: number, check: Check, address: string): Sampler {
  if (check.isInside) return { id, check, sample: (location, _place, at, occasion) => ({ check: id, location, at, occasion, version: 1, verdict: 'pass', phases: {}, total: 2 }) }
  if (check.kind !== 'http') {
    const rounds = roundsOf(id, check)
    return { id, check, sample: (location, place, at, occasion, _now, has) => rounds(location, place, at, occasion, has) }
  }
  const host = HOSTS.find((each) => each.name === new URL(address).hostname)!
  const web = sampled(id, check as Check<HttpTarget>, host, new URL(address).pathname)
  return { id, check, sample: (...at) => sample(web, ...at) }
}

interface Sampler {
  id: number
  check: Check
  sample: (location: number, place: Place, at: Instant, occasion: Observation['occasion'], now: Instant, has: (drill: Drill) => boolean) => Observation
}

/** Which faults are on at a moment, for moments asked in rising order. */
function activeFaults(spans: { drill: Drill; from: Instant; to: Instant }[]): (at: Instant) => (drill: Drill) => boolean {
  let until = -Infinity
  let active = new Set<Drill>()
  const edges = [...new Set(spans.flatMap((span) => [span.from, span.to]))].sort((a, b) => a - b)
  return (at) => {
    if (at >= until) {
      active = new Set(spans.filter((span) => span.from <= at && at < span.to).map((span) => span.drill))
      until = edges.find((edge) => edge > at) ?? Infinity
    }
    return (drill) => active.has(drill)
  }
}

/** The past of one check, played through the same state machine that runs live. */
class Past {
  readonly observations: Observation[] = []
  readonly rows: unknown[][] = []
  readonly turns: Turn[] = []
  readonly stretches: Stretch[] = []
  readonly last = new Map<number, Observation>()
  readonly packed: unknown[][] = []
  private today: { day: number; byLocation: Map<number, Observation[]> } = { day: 0, byLocation: new Map() }
  known: Known
  private readonly open = new Map<string, Stretch>()
  private readonly windows: Record<'5m' | '1h', { at: Instant; byLocation: Map<number, Values> }> = { '5m': { at: 0, byLocation: new Map() }, '1h': { at: 0, byLocation: new Map() } }
  private day: { at: Instant; byLocation: Map<number, Window> } = { at: 0, byLocation: new Map() }
  private readonly again: { at: Instant; location: number }[] = []

  constructor(readonly of: Sampler, private readonly places: Map<number, Place>, private readonly order: number[], private readonly from: Instant, private readonly now: Instant, private readonly faultsAt: (at: Instant) => (drill: Drill) => boolean) {
    this.known = { state: 'nodata', since: from, memories: new Map() }
  }

  run(): void {
    const beats = beatsOf(this.of.id, this.order, this.of.check.every, this.of.check.turns)
    const period = periodOf(beats[0]!)
    const order = beats.map((beat) => ({ location: beat.location, phase: phaseOf(beat) })).sort((a, b) => a.phase - b.phase)
    for (let begin = Math.floor(this.from / period) * period; begin < this.now; begin += period) {
      for (const { location, phase } of order) {
        const at = begin + phase
        if (at < this.from || at >= this.now) continue
        while (this.again.length > 0 && this.again[0]!.at < at) {
          const next = this.again.shift()!
          if (next.at < this.now) this.observe(next.location, next.at, 'again')
        }
        this.observe(location, at, 'scheduled')
      }
    }
    this.flush('5m')
    this.flush('1h')
    this.flushDay()
    this.packDay()
  }

  private observe(location: number, at: Instant, occasion: Observation['occasion']): void {
    const observation = this.of.sample(location, this.places.get(location)!, at, occasion, this.now, this.faultsAt(at))
    this.count(observation)
    this.keepDay(observation)
    if (at >= this.now - RAW_DAYS * DAY) this.observations.push(observation)
    this.last.set(location, observation)
    if (this.isQuiet(observation)) return
    const result = evaluate({ rule: this.of.check, every: this.of.check.every, locations: this.order }, this.known, [observation], at)
    this.known = result.known
    this.turns.push(...result.turns)
    for (const { location: place, kind, to } of result.closed) {
      const stretch = this.open.get(`${place}/${kind}`)
      if (stretch) stretch.to = to
      this.open.delete(`${place}/${kind}`)
    }
    for (const opened of result.opened) {
      const stretch: Stretch = { check: this.of.id, ...opened }
      this.open.set(`${opened.location}/${opened.kind}`, stretch)
      this.stretches.push(stretch)
    }
    for (const wanted of result.wanted) this.again.push(wanted)
    this.again.sort((a, b) => a.at - b.at)
  }

  private keepDay(observation: Observation): void {
    const day = Math.floor(observation.at / DAY)
    if (this.today.day !== day) this.packDay()
    this.today.day = day
    const own = this.today.byLocation.get(observation.location)
    if (own) own.push(observation)
    else this.today.byLocation.set(observation.location, [observation])
  }

  /** Packs a day that has ended; the present one is played from its single observations. */
  private packDay(): void {
    const { day, byLocation } = this.today
    if ((day + 1) * DAY <= this.now) for (const [location, observations] of byLocation) this.packed.push([this.of.id, day, location, Buffer.from(packTries(observations, day * DAY))])
    this.today = { day: 0, byLocation: new Map() }
  }

  /** A pass where all is well changes nothing but the time of the last pass; taking it in by hand is many times faster. */
  private isQuiet(observation: Observation): boolean {
    const memory = this.known.memories.get(observation.location)
    const quiet = observation.verdict === 'pass' && this.known.state === 'up' && memory?.lastVerdict === 'pass' && memory.failingSince === undefined && memory.slowSince === undefined
    if (!quiet) return false
    memory.lastAt = observation.at
    memory.lastPassAt = observation.at
    memory.passesInARow += 1
    this.known.newest = observation.at
    return true
  }

  private count(observation: Observation): void {
    if (observation.at >= this.now - FINE_HOURS * HOUR) this.countInto('5m', observation)
    this.countInto('1h', observation)
  }

  private countInto(span: '5m' | '1h', observation: Observation): void {
    const start = Math.floor(observation.at / SPANS[span]) * SPANS[span]
    if (this.windows[span].at !== start) this.flush(span)
    const window = this.windows[span]
    window.at = start
    let own = window.byLocation.get(observation.location)
    if (!own) window.byLocation.set(observation.location, own = new Values())
    own.add(observation)
  }

  private flush(span: '5m' | '1h'): void {
    const { at, byLocation } = this.windows[span]
    if (byLocation.size === 0) return
    const all = Values.together([...byLocation.values()])
    for (const [location, values] of [[0, all] as const, ...byLocation]) {
      const row = [this.of.id, location, span, at, ...values.counts, ...values.encoded()]
      this.rows.push(row)
      if (span === '1h') this.addToDay(location, at, row)
    }
    this.windows[span] = { at: 0, byLocation: new Map() }
  }

  private addToDay(location: number, at: Instant, row: unknown[]): void {
    const start = Math.floor(at / DAY) * DAY
    if (this.day.at !== start) this.flushDay()
    this.day.at = start
    let own = this.day.byLocation.get(location)
    if (!own) this.day.byLocation.set(location, own = emptyWindow())
    for (let verdict = 0; verdict < 4; verdict += 1) own.counts[verdict]! += row[4 + verdict] as number
    METRICS.forEach((metric, index) => {
      const sketch = row[8 + index] as Buffer | null
      if (sketch) mergeEncoded(own.sketches[metric], sketch)
    })
  }

  private flushDay(): void {
    for (const [location, window] of this.day.byLocation) this.rows.push(windowRow(this.of.id, location, '1d', this.day.at, window))
    this.day = { at: 0, byLocation: new Map() }
  }
}

/** Counts and plain times of one window, in microseconds, in the order of METRICS. */
class Values {
  readonly counts = [0, 0, 0, 0]
  readonly times: number[][] = METRICS.map(() => [])

  static together(parts: Values[]): Values {
    const all = new Values()
    for (const part of parts) {
      part.counts.forEach((count, verdict) => { all.counts[verdict]! += count })
      part.times.forEach((times, metric) => { for (const time of times) all.times[metric]!.push(time) })
    }
    return all
  }

  add({ verdict, phases, total }: Observation): void {
    this.counts[VERDICTS.indexOf(verdict)]! += 1
    if (verdict === 'fail') return
    const { times } = this
    for (let metric = 0; metric < PHASES.length; metric += 1) {
      const time = phases[PHASES[metric]!]
      if (time !== undefined) times[metric]!.push(time * 1000)
    }
    times[PHASES.length]!.push(total * 1000)
  }

  encoded(): (Buffer | null)[] {
    return this.times.map((times) => (times.length > 0 ? encodeValues(times) : null))
  }
}

async function store(pool: Pool, past: Past): Promise<void> {
  const { id } = past.of
  await loadObservations(pool, past.observations, await numberTexts(pool, textsOfAll(past.observations)))
  await loadWindows(pool, past.rows)
  await loadDays(pool, past.packed)
  await openStretches(pool, past.stretches)
  await storeChanges(pool, past.turns.map((turn) => ({
    check: id, decided: turn.at, since: turn.since, lastPass: turn.judgement.lastPass ?? null, from: turn.from, to: turn.to, reason: turn.judgement.reason ?? null,
    sentence: turn.judgement.sentence ?? null, failing: turn.judgement.failing, locations: turn.judgement.locations
  })))
  const { known } = past
  await storeMemories(pool, [...known.memories].map(([location, memory]) => ({ check: id, location, memory, last: lastSeen(past.last.get(location)!) })))
  const judgement = past.turns.at(-1)?.judgement
  await storeStates(pool, [{
    check: id, state: known.state, since: known.since, lastPass: judgement?.lastPass ?? null, reason: judgement?.reason ?? null, sentence: judgement?.sentence ?? null,
    failing: judgement?.failing ?? 0, suspecting: judgement?.suspecting ?? 0, locations: known.memories.size, newest: known.newest ?? null
  }])
}

function lastSeen({ at, verdict, reason, sentence, status, server, phases, total, certificateEnd, readings }: Observation): LastSeen {
  return { at, verdict, reason, sentence, status, server, phases, total, certificateEnd, readings }
}

