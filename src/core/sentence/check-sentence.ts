import type { Check } from '../definitions/check'
import { speakDuration } from '../definitions/duration'
import type { KindDefinition, Kinds } from '../definitions/kind'
import { conditionSentence } from './condition-sentence'
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

/** How many locations `from: all` means, and the name of each key. */
export interface LocationNames {
  count: number
  name: (key: string) => string
}

/** Says a check in sentences. Every changeable part carries its place in the definition. */
export function checkSentence(check: Check, kinds: Kinds, locations: LocationNames): CheckSentence {
  const kind = kinds[check.kind] as unknown as KindDefinition
  const { down, up, slow } = check
  return {
    what: [
      ...kind.sentence(check.target),
      say(' every '), { text: speakDuration(check.every), part: 'every', label: 'how often', offers: ['10 s', '30 s', '60 s', '5 min', '15 min', '1 h'] },
      say(' from '), fromPiece(check, locations),
      say(' and wait at most '), { text: speakDuration(check.wait), part: 'wait', label: 'how long to wait', offers: ['2 s', '5 s', '10 s', '30 s', '60 s'] },
      say('.')
    ],
    conditions: check.pass.map(conditionSentence),
    down: [
      say('Call it '), say('down', 'down'), say(' when '),
      { text: triesText(down.tries, down.of), part: 'down.tries', label: 'failed tries at a location', offers: ['1 try', '2 tries', '3 tries', '3 of the last 5 tries'] }, say(', '),
      { text: `${speakDuration(down.apart)} apart`, part: 'down.apart', label: 'pause between tries', offers: ['5 s apart', '10 s apart', '30 s apart', '60 s apart'] },
      say(down.tries === 1 ? ', fails at ' : ', fail at '),
      { text: locationsText(down.locations), part: 'down.locations', label: 'locations that must agree', offers: ['1 location', '2 or more locations', '3 or more locations'] },
      say('; up after '),
      { text: `${up.tries} ${up.tries === 1 ? 'pass' : 'passes'}`, part: 'up.tries', label: 'passes until up', offers: ['1 pass', '2 passes', '3 passes'] },
      say('.')
    ],
    slow: slow ? [
      say('Call it '), say('slow', 'slow'), say(' when the '),
      { text: slow.phase, part: 'slow.phase', label: 'phase', offers: ['total', 'lookup', 'connect', 'tls', 'wait', 'receive'] },
      say(' stays above '), { text: speakDuration(slow.above), part: 'slow.above', label: 'limit', offers: ['300 ms', '600 ms', '900 ms', '2 s', '5 s'] },
      say(' for '), { text: speakDuration(slow.for), part: 'slow.for', label: 'for how long', offers: ['60 s', '5 min', '15 min'] },
      say(' at '), { text: locationsText(slow.locations), part: 'slow.locations', label: 'slow locations', offers: ['1 location', '2 or more locations', '3 or more locations'] },
      say('.')
    ] : []
  }
}

function fromPiece(check: Check, locations: LocationNames): Sentence[number] {
  const text = check.from === 'all'
    ? `all ${locations.count} ${locations.count === 1 ? 'location' : 'locations'}`
    : check.from.length <= 2 ? check.from.map(locations.name).join(' and ') : `${check.from.length} locations`
  return { text, part: 'from', label: 'from where' }
}

function triesText(tries: number, of: number | undefined): string {
  if (of !== undefined) return `${tries} of the last ${of} tries`
  return `${tries} ${tries === 1 ? 'try' : 'tries'}`
}

function locationsText(count: number): string {
  return count === 1 ? '1 location' : `${count} or more locations`
}
