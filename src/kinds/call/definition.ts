import * as yup from 'yup'
import { cronProblem, INTERVAL } from '../../core/calls/rhythm'
import { describeKind } from '../../core/definitions/describe-kind'
import { choiceTarget, durationTarget, textTarget, type TargetField } from '../../core/definitions/target-fields'
import { formatDuration, parseDuration, readSpokenDuration, speakDuration } from '../../core/definitions/duration'
import { say } from '../../core/sentence/sentence'
import { isZone } from '../../core/time/zoned'
import { DAY, MINUTE } from '../../core/units'

export interface CallTarget {
  /** An interval as a duration, or a cron expression. */
  comes: { every: number } | { cron: string }
  /** The zone of a cron expression; the workspace's without it is UTC. */
  zone: string
  grace: number
  longest?: number
  overlap: 'fails' | 'warns' | 'is fine'
}

const COMES = `a duration from ${formatDuration(INTERVAL.shortest)} to ${formatDuration(INTERVAL.longest)}, or a cron expression of five fields such as 30 3 * * 1-5`

function readComes(text: string): CallTarget['comes'] | undefined {
  const written = readSpokenDuration(text.trim().replace(/^every\s+/, ''))
  const every = written === undefined ? undefined : parseDuration(written)
  if (every !== undefined) return every >= INTERVAL.shortest && every <= INTERVAL.longest ? { every } : undefined
  return cronProblem(text) === undefined ? { cron: text.trim().split(/\s+/).join(' ') } : undefined
}

const comesTarget: TargetField<CallTarget['comes']> = {
  label: 'when it is expected', as: 'text', isNeeded: true, offers: ['1 h', '1 day', '30 3 * * *', '0 6 * * 1-5'],
  schema: yup.mixed().test('comes', COMES, (value) => typeof value === 'string' && readComes(value) !== undefined),
  json: { type: 'string', description: COMES, examples: ['24h', '30 3 * * 1-5'] },
  read: (written) => readComes(String(written))!, write: (comes) => ('every' in comes ? formatDuration(comes.every) : comes.cron),
  speak: (comes) => ('every' in comes ? `every ${speakDuration(comes.every)}` : comes.cron), typed: (text) => readComes(text) ?? { expected: COMES }
}

export const callDefinition = describeKind<CallTarget>({
  kind: 'call',
  name: 'a job that calls when it has run',
  family: 'inside',
  proves: 'A job has run when it should, has ended well and in time, and not twice at once: it says so itself, by calling an address of its own.',
  doesNotProve: 'That what the job did is right; and a job that cannot reach Hemeron looks like one that did not run.',
  fields: {
    comes: comesTarget, zone: textTarget('time zone', { otherwise: 'UTC', fits: isZone, expected: 'an IANA time zone such as Europe/Oslo' }),
    grace: durationTarget('how late it may be', 1000, 7 * DAY, 10 * MINUTE), longest: durationTarget('how long it may take', 1000, 30 * DAY),
    overlap: choiceTarget('a run that begins before the last has ended', ['fails', 'warns', 'is fine'] as const, 'fails')
  },
  blank: { comes: '1d' },
  addressField: 'comes',
  inSentence: ['comes', 'zone', 'grace'],
  sentence: (target, part) => [
    say('Expect a call of this job '), part('comes', { look: 'code' }), ...('cron' in target.comes ? [say(' in '), part('zone', { offers: ['UTC', 'Europe/Oslo'] })] : []),
    say(', at most '), part('grace', { offers: ['1 min', '10 min', '1 h'] }), say(' late'), ...(target.longest === undefined ? [] : [say(`, done within ${speakDuration(target.longest)}`)])
  ],
  address: ({ comes, zone }) => ('every' in comes ? `calls every ${speakDuration(comes.every)}` : `calls at ${comes.cron} ${zone}`),
  guess: () => undefined,
  requests: () => 0,
  offers: [
    { name: 'a run does not take long', written: { took: { max: '1h', warn: '30m' } } }, { name: 'what it printed says', written: { text: 'rows imported' } }, { name: 'it is not late', written: { late: { warn: { max: '5m' } } } },
    { name: 'its exit code', written: { exit: { max: 0 } } }
  ],
  subjects: ['text', 'pattern', 'json'],
  readings: { took: { unit: 'time', says: 'time of the last run' }, late: { unit: 'time', says: 'lateness of the last call' }, exit: { unit: 'number', says: 'exit code' }, running: { unit: 'number', says: 'number of runs going on' } },
  telling: ['took', 'exit'],
  phases: [],
  inside: () => true,
  takes: () => 'calls'
})
