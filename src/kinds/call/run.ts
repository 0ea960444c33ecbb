import { judgeCalls } from '../../core/calls/judge-calls'
import { openRuns, runsTable, took } from '../../core/calls/runs'
import { speakExactly } from '../../core/time/zoned'
import { runnerOf } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { callDefinition } from './definition'

export const callRunner = runnerOf(callDefinition, async ({ comes, zone, grace, longest, overlap }, trying) => {
  const { now, made, calls, away, zone: spoken } = await trying.inside({ calls: true })
  if (made === undefined) return { said: { verdict: 'warn', reason: 'call-awaited', sentence: 'the address to call is there once the check is saved' } }
  const rule = { rhythm: 'every' in comes ? comes : { ...comes, zone }, grace, overlap, ...(longest === undefined ? {} : { longest }) }
  const judged = judgeCalls(rule, { calls, made, ...(away ? { away } : {}) }, spoken, now)
  const { runs, last } = judged
  const lasted = last && took(last)
  trying.readings.running = openRuns(runs).length
  if (lasted !== undefined) trying.readings.took = lasted
  if (last) trying.readings.exit = last.exit!
  if (judged.lateness !== undefined) trying.readings.late = judged.lateness
  trying.evidence.facts = [['expected', speakExactly(judged.due, spoken)], ['at the latest', speakExactly(judged.deadline, spoken)]]
  if (runs.length > 0) trying.evidence.tables = [runsTable(runs)]
  if (last?.output) trying.answer(last.output)
  if (judged.verdict === 'fail') throw new TryFailure(judged.reason!, judged.sentence!)
  if (judged.verdict === 'warn') return { said: { verdict: 'warn', reason: judged.reason!, sentence: judged.sentence! } }
  // before a first run has ended there is nothing that conditions could be about
  return last ? { body: last.output ?? '' } : { said: { verdict: 'pass' } }
})
