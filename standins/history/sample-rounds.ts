import type { Check } from '../../src/core/definitions/check'
import { judgeAnswer } from '../../src/core/conditions/judge-answer'
import type { Observation, Occasion, PhaseTimes, StepTime } from '../../src/core/observation'
import type { Instant } from '../../src/core/units'
import { kinds, stepsOf } from '../../src/kinds/definitions'
import type { Drill } from '../world/faults'
import { lineState, lookupTime, roundTrip } from '../world/model'
import type { Place } from '../world/places'
import { seeded, tail } from '../world/random'

const SEED = 20_261_124
/** What the server itself needs in each phase, in milliseconds; a phase that is missing takes no time of its own. */
const WORK: Record<string, Partial<Record<keyof PhaseTimes, number>>> = {
  mysql: { login: 3, wait: 14 }, sequence: { wait: 250, receive: 4 }, redis: { login: 1, wait: 1 }, stream: { wait: 20, receive: 40 }, container: { wait: 9, receive: 0.4 }, ftp: { greet: 3, login: 8, wait: 12, receive: 4 }, mqtt: { login: 2, wait: 3 }, sip: { wait: 5 }, mail: { greet: 4, login: 9, send: 20, wait: 1500, remove: 12 }, smtp: { greet: 3, wait: 8 }, grpc: { wait: 12, receive: 0.3 }, websocket: { greet: 4, wait: 18 }, dns: { wait: 2 }, domain: { wait: 30, receive: 1 }
}
/** Phases that only some targets of a kind have, and that those of the demo have not. */
const WITHOUT: Record<string, readonly string[]> = { smtp: ['login'], sip: ['connect', 'tls'], mqtt: ['tls'], redis: ['tls'], container: ['tls'], ftp: ['send', 'remove'], tcp: ['tls', 'wait', 'receive'], certificate: ['greet'], dns: ['connect', 'tls'] }

type Sample = (location: number, place: Place, at: Instant, occasion: Occasion, has: (drill: Drill) => boolean) => Observation

/** How tries of a check of any kind went in the past: rounds over the line of the place, and the work of the server. */
export function roundsOf(id: number, check: Check): Sample {
  const { phases: all, readings: known } = kinds[check.kind]!
  const names = all.filter((phase) => !WITHOUT[check.kind]?.includes(phase))
  const work = WORK[check.kind] ?? {}
  const stepNames = stepsOf(check)
  const isTimed = all.length > 1
  const isPing = known.loss !== undefined && known.jitter !== undefined
  const isWalk = (check.target as { walk?: boolean }).walk === true
  const judged = { ...check, pass: check.pass.filter(({ test }) => test.on === 'phase' || (test.on === 'reading' && isPing)) }
  const isJudged = judged.pass.length > 0 || check.slow !== undefined
  return (location, place, at, occasion, has) => {
    const random = seeded(SEED, id, location, at)
    const line = lineState(place, has)
    const base = { check: id, location, at, occasion, version: 1 }
    if (line.cut) return { ...base, verdict: 'fail', reason: 'timed-out-lookup', sentence: `the resolver did not answer within ${check.wait / 1000} s`, phases: { lookup: check.wait }, total: check.wait }
    const phases: PhaseTimes = {}
    let total = 0
    const server = isWalk ? `ns${random() < 0.5 ? 1 : 2}.orrinsound.example` : undefined
    for (const phase of names) {
      const own = work[phase] === undefined ? 0 : work[phase] * tail(random, 0.25)
      const time = phase === 'lookup' ? lookupTime(line, random) : phase === 'receive' ? own + 0.2 : phase === 'wait' && isWalk ? 3 * roundTrip(line, random, false) + (has('slow-name-server') && server?.startsWith('ns2') ? 900 : 0) : roundTrip(line, random, phase === 'connect') + own
      phases[phase] = time
      total += time
    }
    const steps = stepTimes(stepNames, phases, random)
    if (!isTimed) total = roundTrip(line, random, false)
    const readings = isPing ? { loss: [1, 2, 3, 4, 5].filter(() => random() < line.loss).length / 5, fastest: total * 0.97, median: total, slowest: total * 1.05, jitter: line.rtt * line.jitter * 0.4 } : undefined
    const observation: Observation = { ...base, verdict: 'pass', phases, total, ...(server ? { server } : {}), ...(steps ? { steps } : {}), ...(readings ? { readings } : {}) }
    return isJudged ? { ...observation, ...judgeAnswer(judged, { headers: [], body: '', bytes: 0, times: { ...phases, total }, ...(readings ? { readings } : {}) }).verdict } : observation
  }
}

/** What each step took: the first one looks up the name and connects, and all of them wait. */
function stepTimes(names: string[], { lookup = 0, connect = 0, tls = 0, wait = 0, receive = 0 }: PhaseTimes, random: () => number): StepTime[] | undefined {
  if (names.length === 0) return undefined
  const weights = names.map(() => tail(random, 0.25))
  const all = weights.reduce((sum, each) => sum + each, 0)
  return names.map((name, place) => ({ name, took: (place === 0 ? lookup + connect + tls : 0) + ((wait + receive) * weights[place]!) / all, status: 200 }))
}
