import { speakLength } from '../definitions/duration'
import type { Reason } from '../reasons/reasons'
import type { Call } from '../inside/inside'
import { speakMoment } from '../time/zoned'
import type { Instant, Milliseconds } from '../units'
import { earliness, nextTime, timesUpTo, type Rhythm } from './rhythm'
import { heard, openRuns, runsOf, type Run } from './runs'

export interface CallRule {
  rhythm: Rhythm
  /** How much later than expected a call may come. */
  grace: Milliseconds
  /** How long a run may take; without it any time. */
  longest?: Milliseconds
  /** What it means that a run begins before the one before has ended. */
  overlap: 'fails' | 'warns' | 'is fine'
}

export interface CallJudgement {
  verdict: 'pass' | 'warn' | 'fail'
  reason?: Extract<Reason, `call-${string}`>
  sentence?: string
  runs: Run[]
  /** The last run that has ended. */
  last?: Run
  /** When the next call is expected, and when it counts as late. */
  due: Instant
  deadline: Instant
  /** How much after its time the last call came; 0 when it came in time. */
  lateness?: Milliseconds
}

export interface CallFacts {
  calls: readonly Call[]
  made: Instant
  /** When Hemeron could not be called; what was due then is waited for anew. */
  away?: { from: Instant; to: Instant }
}

type Verdict = Pick<CallJudgement, 'verdict' | 'reason' | 'sentence'>

/**
 * Judges a job by its calls at a moment. Told apart are a run that takes too long, one that overlaps the one before, a
 * call that is late, runs that are missing altogether, and a run that failed, in this order.
 * @param zone the zone in which moments are spoken
 */
export function judgeCalls(rule: CallRule, facts: CallFacts, zone: string, now: Instant): CallJudgement {
  const runs = runsOf(facts.calls)
  const last = runs.filter((run) => run.ended !== undefined).sort((a, b) => a.ended! - b.ended!).at(-1)
  const times = expected(rule, facts, runs, now)
  const base = { runs, due: times.due, deadline: times.deadline, ...(last ? { last } : {}), ...(times.lateness === undefined ? {} : { lateness: times.lateness }) }
  const verdict = tooLong(rule, runs, zone, now) ?? overlapping(rule, runs, zone, now, 'fails') ?? absent(times, runs, facts, zone, now) ?? failed(last, zone, now) ??
    (runs.length === 0 ? { verdict: 'warn' as const, reason: 'call-awaited' as const, sentence: `no call has come yet; the first is awaited by ${speakMoment(times.deadline, zone, now)}` } : undefined) ??
    overlapping(rule, runs, zone, now, 'warns') ?? { verdict: 'pass' as const }
  return { ...base, ...verdict }
}

function tooLong({ longest }: CallRule, runs: Run[], zone: string, now: Instant): Verdict | undefined {
  const run = longest === undefined ? undefined : openRuns(runs).find((each) => now - each.began! > longest)
  return run && { verdict: 'fail', reason: 'call-too-long', sentence: `the run that began ${speakMoment(run.began!, zone, now)} has taken ${speakLength(now - run.began!)} and has not ended; it may take ${speakLength(longest!)}` }
}

function overlapping({ overlap }: CallRule, runs: Run[], zone: string, now: Instant, when: 'fails' | 'warns'): Verdict | undefined {
  const open = openRuns(runs)
  if (overlap !== when || open.length < 2) return undefined
  const [before, next] = [open.at(-2)!, open.at(-1)!]
  return { verdict: when === 'fails' ? 'fail' : 'warn', reason: 'call-overlaps', sentence: `a run began ${speakMoment(next.began!, zone, now)} while the one from ${speakMoment(before.began!, zone, now)} had not ended` }
}

function failed(last: Run | undefined, zone: string, now: Instant): Verdict | undefined {
  if (!last || last.exit === 0) return undefined
  const lines = last.output?.trim().split('\n').at(-1)?.slice(0, 120)
  return { verdict: 'fail', reason: 'call-failed', sentence: `the run that ended ${speakMoment(last.ended!, zone, now)} failed with exit code ${last.exit}${lines ? `: ${lines}` : ''}` }
}

interface Expected {
  due: Instant
  deadline: Instant
  lateness?: Milliseconds
  /** How many runs have not been heard of; the newest may still be within its grace. */
  missed: number
  /** When the newest of them was due. */
  since?: Instant
}

function absent({ missed, since, deadline }: Expected, runs: Run[], { made }: CallFacts, zone: string, now: Instant): Verdict | undefined {
  if (missed === 0) return undefined
  const lastHeard = runs.length === 0 ? `none has come since the check was made ${speakMoment(made, zone, now)}` : `the last came ${speakMoment(heard(runs.at(-1)!), zone, now)}`
  if (missed === 1) return { verdict: 'fail', reason: 'call-late', sentence: `the call due ${speakMoment(since!, zone, now)} is ${speakLength(now - since!)} late; it was to come by ${speakMoment(deadline, zone, now)}; ${lastHeard}` }
  return { verdict: 'fail', reason: 'call-missing', sentence: `${missed} runs in a row are missing, the last due ${speakMoment(since!, zone, now)}; ${lastHeard}` }
}

/** The end of the patience for a call: the grace after it was due, and the grace anew after a time in which nobody could call. */
function patience(due: Instant, { grace }: CallRule, { away }: CallFacts): Instant {
  const deadline = due + grace
  return away && deadline >= away.from && deadline < away.to + grace ? away.to + grace : deadline
}

function expected(rule: CallRule, facts: CallFacts, runs: Run[], now: Instant): Expected {
  return 'every' in rule.rhythm ? atInterval(rule.rhythm.every, rule, facts, runs, now) : atTimes(rule.rhythm.cron, rule.rhythm.zone, rule, facts, runs, now)
}

function atInterval(every: Milliseconds, rule: CallRule, facts: CallFacts, runs: Run[], now: Instant): Expected {
  const times = runs.map(heard)
  const anchor = times.at(-1) ?? facts.made
  const due = anchor + every
  const deadline = patience(due, rule, facts)
  const lateness = times.length < 2 ? undefined : Math.max(0, times.at(-1)! - times.at(-2)! - every)
  const missed = now <= deadline ? 0 : 1 + Math.max(0, Math.floor((now - deadline) / every))
  return { due, deadline, missed, ...(missed > 0 ? { since: due + (missed - 1) * every } : {}), ...(lateness === undefined ? {} : { lateness }) }
}

/** How many times of a cron expression are looked back at. */
const LOOK_BACK = 50

function atTimes(cron: string, zone: string, rule: CallRule, facts: CallFacts, runs: Run[], now: Instant): Expected {
  const times = timesUpTo(cron, zone, now, LOOK_BACK)
  const next = nextTime(cron, zone, now)
  const arrivals = runs.map(heard)
  const wanted = times.filter((time) => time >= facts.made)
  const until = (index: number) => (index === 0 ? next : times[index - 1]!)
  const heardFor = (index: number): Instant | undefined => {
    const time = wanted[index]!
    const early = earliness(until(index) - time)
    const ended = until(index) - earliness(until(index) - time)
    return arrivals.find((arrival) => arrival >= time - early && (index === 0 || arrival < ended))
  }
  let missed = 0
  let since: Instant | undefined
  let deadline = patience(next, rule, facts)
  let due = next
  for (const [index, time] of wanted.entries()) {
    const arrival = heardFor(index)
    if (arrival !== undefined) break
    const end = patience(time, rule, facts)
    if (index === 0) [due, deadline] = [time, end]
    if (now <= end) continue
    missed += 1
    since ??= time
  }
  const newest = wanted.findIndex((_, index) => heardFor(index) !== undefined)
  const lateness = newest < 0 ? undefined : Math.max(0, heardFor(newest)! - wanted[newest]!)
  return { due, deadline, missed, ...(since === undefined ? {} : { since }), ...(lateness === undefined ? {} : { lateness }) }
}
