import type { Check, SlowRule } from '../definitions/check'
import { speakDuration } from '../definitions/duration'
import type { KindDefinition, Kinds } from '../definitions/kind'
import { formatHours } from '../hours/hours'
import type { Effective } from '../layers/inherit'
import { speakChoice, locationsOf, type Placed } from '../places/places'
import { conditionSentence } from './condition-sentence'
import { formatShare } from '../definitions/share'
import { say, type Sentence } from './sentence'

/** The sentence of a check in its paragraphs, generated from the definition and nothing else. */
export interface CheckSentence {
  /** “Fetch … every 60 s from 12 locations, and wait at most 10 s.” */
  what: Sentence
  /** One sentence a condition, to follow “It passes when”. */
  conditions: Sentence[]
  /** “Call it down when …” */
  down: Sentence
  /** “Call it slow when …”; empty when the check has no such rule. */
  slow: Sentence
}

/** The locations there are, as sentences name them. */
export type KnownLocation = Placed & { place: string }

/**
 * Says a check in sentences. Every changeable part carries its place in the definition.
 * @param effective where each value comes from; parts that are not the check's own then say so
 */
export function checkSentence(check: Check, kinds: Kinds, locations: KnownLocation[], effective?: Pick<Effective, 'origins' | 'conditions'>): CheckSentence {
  const sentence = {
    what: whatSentence(check, kinds[check.kind] as unknown as KindDefinition, locations),
    conditions: check.pass.map(conditionSentence),
    down: downSentence(check),
    slow: check.slow ? slowSentence(check.slow, kinds[check.kind]!.phases) : []
  }
  if (!effective) return sentence
  const mark = (pieces: Sentence) => pieces.map((piece) => withOrigin(piece, effective))
  return { what: mark(sentence.what), conditions: sentence.conditions.map(mark), down: mark(sentence.down), slow: mark(sentence.slow) }
}

function withOrigin(piece: Sentence[number], { origins, conditions }: Pick<Effective, 'origins' | 'conditions'>): Sentence[number] {
  if (piece.part === undefined) return piece
  const condition = /^pass\[(\d+)\]/.exec(piece.part)
  const origin = condition ? conditions[Number(condition[1])]?.origin : origins[piece.part]
  return origin === undefined || origin === 'check' ? piece : { ...piece, origin }
}

function whatSentence(check: Check, kind: KindDefinition, locations: KnownLocation[]): Sentence {
  const places = locationsOf(check.from, locations).length
  const { window } = check
  return [
    ...kind.sentence(check.target),
    say(check.isInside ? ', judged every ' : ' every '), { text: speakDuration(check.every), part: 'every', label: 'how often', offers: ['10 s', '30 s', '60 s', '5 min', '15 min', '1 h'] },
    ...(check.isInside ? [] : [say(' from '), { text: speakChoice(check.from, locations), part: 'from', label: 'from where' }]),
    ...(places > 1 || check.turns === 'in-turn' ? [say(' '), { text: turnsText(check, places), part: 'turns', label: 'together or in turn', offers: ['together', 'in turn'] }] : []),
    ...(check.hours ? [say(', only '), { text: `${check.hours.at.map(formatHours).join(' and ')}${check.hours.zone ? ` ${check.hours.zone}` : ''}`, part: 'hours', label: 'hours', offers: ['mon-fri 06:00-22:00', 'daily 05:00-23:00', 'always'] }] : []),
    ...(window ? [say(', '), { text: windowText(window), part: 'window', label: 'release window', offers: ['only while a release window is open', 'every 10 s while a release window is open', 'no release window'] }] : []),
    ...(check.isInside ? [] : [say(' and wait at most '), { text: speakDuration(check.wait), part: 'wait', label: 'how long to wait', offers: ['2 s', '5 s', '10 s', '30 s', '60 s'] }]),
    say('.'),
    ...(check.needs.length > 0 ? [say(' It needs '), { text: check.needs.join(', '), part: 'needs', label: 'checks it needs' }, say('.')] : [])
  ]
}

function turnsText(check: Check, places: number): string {
  return check.turns === 'together' ? 'together' : `in turn, each every ${speakDuration(check.every * Math.max(1, places))}`
}

function windowText({ only, every }: NonNullable<Check['window']>): string {
  const dense = every === undefined ? '' : `every ${speakDuration(every)} `
  return `${only ? 'only ' : ''}${dense}while a release window is open`
}

function downSentence({ down, up, isInside }: Check): Sentence {
  if (isInside) {
    return [
      say('Call it '), say('down', 'down'), say(' after '), { text: `${down.tries} ${down.tries === 1 ? 'failure' : 'failures in a row'}`, part: 'down.tries', label: 'failures in a row', offers: ['1 failure', '2 failures', '3 failures'] },
      ...(down.tries === 1 ? [] : [say(', '), { text: `${speakDuration(down.apart)} apart`, part: 'down.apart', label: 'pause between tries', offers: ['10 s apart', '30 s apart', '60 s apart'] }]),
      say('; up after '), { text: `${up.tries} ${up.tries === 1 ? 'pass' : 'passes'}`, part: 'up.tries', label: 'passes until up', offers: ['1 pass', '2 passes', '3 passes'] }, say('.')
    ]
  }
  return [
    say('Call it '), say('down', 'down'), say(' when '),
    { text: triesText(down.tries, down.of), part: 'down.tries', label: 'failed tries at a location', offers: ['1 try', '2 tries', '3 tries', '3 of the last 5 tries'] }, say(', '),
    { text: `${speakDuration(down.apart)} apart`, part: 'down.apart', label: 'pause between tries', offers: ['5 s apart', '10 s apart', '30 s apart', '60 s apart'] },
    say(down.tries === 1 ? ', fails at ' : ', fail at '),
    { text: locationsText(down.locations), part: 'down.locations', label: 'locations that must agree', offers: ['1 location', '2 or more locations', '3 or more locations'] },
    say('; up after '),
    { text: `${up.tries} ${up.tries === 1 ? 'pass' : 'passes'}`, part: 'up.tries', label: 'passes until up', offers: ['1 pass', '2 passes', '3 passes'] },
    say('.')
  ]
}

/** Says the limit of a rule for slow: `900 ms`, or `6 spreads above usual`. */
export function speakLimit({ above, spreads }: Pick<SlowRule, 'above' | 'spreads'>): string {
  return above === 'usual' ? `${spreads} spreads above usual` : speakDuration(above)
}

function slowSentence(slow: SlowRule, phases: readonly string[]): Sentence {
  return [
    say('Call it '), say('slow', 'slow'), say(' when the '),
    { text: slow.phase, part: 'slow.phase', label: 'phase', offers: ['total', ...phases] },
    say(' stays '), { text: slow.above === 'usual' ? speakLimit(slow) : `above ${speakLimit(slow)}`, part: 'slow.above', label: 'limit', offers: ['above 600 ms', 'above 900 ms', 'above 2 s', '4 spreads above usual', '6 spreads above usual'] },
    say(' for '), { text: speakDuration(slow.for), part: 'slow.for', label: 'for how long', offers: ['60 s', '5 min', '15 min'] },
    say(' at '), { text: locationsText(slow.locations), part: 'slow.locations', label: 'slow locations', offers: ['1 location', '2 or more locations', '3 or more locations'] },
    say('; quick again '), { text: slow.margin === 0 ? 'at the limit' : `${formatShare(slow.margin)} below`, part: 'slow.margin', label: 'margin of recovery', offers: ['at the limit', '10% below', '25% below'] },
    say('.')
  ]
}

function triesText(tries: number, of: number | undefined): string {
  if (of !== undefined) return `${tries} of the last ${of} tries`
  return `${tries} ${tries === 1 ? 'try' : 'tries'}`
}

function locationsText(count: number): string {
  return count === 1 ? '1 location' : `${count} or more locations`
}
