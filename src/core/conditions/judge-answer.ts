import type { Check } from '../definitions/check'
import { speakDuration, speakMilliseconds } from '../definitions/duration'
import type { ConditionFinding, Observation } from '../observation'
import { conditionSentence } from '../sentence/condition-sentence'
import { plainText } from '../sentence/sentence'
import type { Answer } from './condition'
import { judgeConditions } from './judge-condition'

export interface Verdicted {
  verdict: Pick<Observation, 'verdict' | 'reason' | 'sentence'>
  findings: ConditionFinding[]
}

/** Judges what a try brought: an answer against the check's conditions, or the failure to get one. */
export function judgeAnswer(check: Pick<Check, 'pass' | 'turned' | 'slow'>, outcome: Answer | { reason: string; sentence: string }): Verdicted {
  const judged = 'reason' in outcome ? { verdict: { verdict: 'fail' as const, ...outcome }, findings: [] } : judgeReceived(check, outcome)
  if (!check.turned) return judged
  return judged.verdict.verdict === 'fail'
    ? { ...judged, verdict: { verdict: 'pass' } }
    : { ...judged, verdict: { verdict: 'fail', reason: 'turned-round', sentence: 'it answers as described, and should not' } }
}

function judgeReceived(check: Pick<Check, 'pass' | 'slow'>, answer: Answer): Verdicted {
  const findings = judgeConditions(check.pass, answer)
  const failed = findings.find((finding) => finding.outcome === 'failed')
  if (failed) {
    const { test } = check.pass[failed.index]!
    return { findings, verdict: { verdict: 'fail', reason: test.on === 'status' ? 'status' : 'condition', sentence: conditionFailure(check, failed) } }
  }
  const time = check.slow ? answer.times[check.slow.phase] : undefined
  // what is usual is known where all observations come together, not here
  if (check.slow && check.slow.above !== 'usual' && time !== undefined && time > check.slow.above) {
    return { findings, verdict: { verdict: 'slow', reason: 'slow', sentence: `${check.slow.phase} took ${speakMilliseconds(time)}, above ${speakDuration(check.slow.above)}` } }
  }
  const warned = findings.find((finding) => finding.outcome === 'warned')
  if (warned) return { findings, verdict: { verdict: 'warn', reason: 'condition', sentence: conditionFailure(check, warned) } }
  return { findings, verdict: { verdict: 'pass' } }
}

function conditionFailure(check: Pick<Check, 'pass'>, finding: ConditionFinding): string {
  const rule = plainText(conditionSentence(check.pass[finding.index]!, finding.index))
  return `${finding.found}; it ${finding.outcome === 'failed' ? 'passes' : 'should be'} ${finding.outcome === 'failed' ? 'when ' : 'that '}${rule}`
}
