import type { Condition, ConditionTest, FactTest, Limits, TextTest } from '../conditions/condition'
import { speakDuration } from '../definitions/duration'
import { formatShare } from '../definitions/share'
import { formatSize } from '../definitions/size'
import { speakStatusSet } from '../definitions/status-set'
import { PHASES } from '../observation'
import { speakLimitOf } from '../conditions/unit'
import { say, type Sentence } from './sentence'

const PHASE_OFFERS = ['total', ...PHASES]

/** Says one condition with its changeable parts; `index` is its place in the list. */
export function conditionSentence(condition: Condition, index: number): Sentence {
  const pieces = testSentence(condition.test, `pass[${index}]`, condition.not)
  return condition.softly ? [...pieces, say(', or it warns')] : pieces
}

function testSentence(test: ConditionTest, at: string, not: boolean): Sentence {
  const is = not ? ' is not ' : ' is '
  switch (test.on) {
    case 'status':
      return [say(`the status${is}`), { text: speakStatusSet(test.set), part: `${at}.status`, label: 'status', offers: ['200 to 299', '200', '200 to 399', '401'] }]
    case 'text':
      return [say('“'), { text: test.text, part: `${at}.text`, label: 'text', look: 'code' }, say(not ? '” is absent from the answer' : '” is in the answer')]
    case 'pattern':
      return [say(not ? 'the answer does not match ' : 'the answer matches '), { text: test.pattern, part: `${at}.pattern`, label: 'pattern', look: 'code' }]
    case 'header':
      return [say('the header '), { text: test.name, part: `${at}.header`, label: 'header', look: 'code' }, ...textTestSentence(test.test, at, not)]
    case 'json': case 'xml':
      return [{ text: test.path, part: `${at}.${test.on}`, label: test.on === 'json' ? 'JSON path' : 'XPath', look: 'code' },
        ...(test.count ? [say(not ? ' does not have ' : ' has '), ...limitsSentence(test.count, `${at}.count`, String, isOne(test.count) ? ' item' : ' items')]
          : test.value ? [say(is), ...limitsSentence(test.value, `${at}.value`, String, '')]
            : textTestSentence(test.test, at, not))]
    case 'certificate':
      return [say(not ? 'the certificate does not last ' : 'the certificate lasts '), ...limitsSentence(test.left, `${at}.certificate`, speakDuration, '')]
    case 'size':
      return [say(not ? 'the size is not ' : 'the size is '), ...limitsSentence(test.bytes, `${at}.size`, formatSize, '')]
    case 'phase':
      return [{ text: test.phase, part: `${at}.phase`, label: 'phase', offers: PHASE_OFFERS },
        say(not ? ' does not take ' : ' takes '), ...limitsSentence(test.time, at, speakDuration, '')]
    case 'metric':
      return [{ text: test.name, part: `${at}.metric`, label: 'number', look: 'code' }, say(test.rate ? (not ? ' does not grow by ' : ' grows by ') : is), ...limitsSentence(test.limits, `${at}.value`, (value) => speakLimitOf(test.unit, value), test.rate ? ' a second' : ''),
        say(', counting '), { text: test.for === 0 ? 'at once' : `after ${speakDuration(test.for)}`, part: `${at}.for`, label: 'for how long', offers: ['at once', 'after 5 min', 'after 15 min'] },
        say(', good again '), { text: test.margin === 0 ? 'at the limit' : `${formatShare(test.margin)} inside`, part: `${at}.margin`, label: 'margin of recovery', offers: ['at the limit', '5% inside', '10% inside'] }]
    case 'reading':
      return [say(`the ${test.says}${test.limits.min === undefined && test.limits.max === undefined ? ' may have any value' : is.trimEnd()}`), say(test.limits.min === undefined && test.limits.max === undefined ? ', ' : ' '),
        ...limitsSentence(test.limits, `${at}.${test.name}`, (value) => speakLimitOf(test.unit, value), '')]
    case 'fact':
      return [say(test.count ? `the number of ${test.many}` : `the ${test.says}`), ...(test.count ? [say(is), ...limitsSentence(test.count, `${at}.${test.name}.count`, String, '')] : factSentence(test.test, `${at}.${test.name}`, not))]
  }
}

function textTestSentence(test: TextTest, at: string, not: boolean): Sentence {
  if (test.is !== undefined) {
    return [say(not ? ' is not ' : ' is '), { text: typeof test.is === 'string' ? test.is : JSON.stringify(test.is), part: `${at}.is`, label: 'value', look: 'code' }]
  }
  if (test.has !== undefined) return [say(not ? ' does not contain ' : ' contains '), { text: test.has, part: `${at}.has`, label: 'text', look: 'code' }]
  if (test.matches !== undefined) return [say(not ? ' does not match ' : ' matches '), { text: test.matches, part: `${at}.matches`, label: 'pattern', look: 'code' }]
  return [say(not ? ' is absent' : ' is there')]
}

function factSentence({ is, has, matches }: FactTest, at: string, not: boolean): Sentence {
  const piece = (text: string, name: string, label: string): Sentence[number] => ({ text, part: `${at}.${name}`, label, look: 'code' })
  if (is !== undefined) return [say(not ? ' is not ' : ' is '), piece(is.join(', '), 'is', 'value')]
  if (has !== undefined) return [say(not ? ' does not contain ' : ' contains '), piece(has, 'has', 'text')]
  return [say(not ? ' does not match ' : ' matches '), piece(matches ?? '', 'matches', 'pattern')]
}

/** “3 days or more, warn below 14 days”, “at most 2 s, warn above 900 ms”, “200 to 400”. */
function limitsSentence(limits: Limits, at: string, speak: (value: number) => string, unit: string): Sentence {
  const pieces: Sentence = []
  const end = (value: number, name: string): Sentence[number] => ({ text: speak(value), part: `${at}.${name}`, label: name })
  if (limits.min !== undefined && limits.max !== undefined) {
    pieces.push(end(limits.min, 'min'), say(' to '), end(limits.max, 'max'), say(unit))
  } else if (limits.min !== undefined) {
    pieces.push(end(limits.min, 'min'), say(`${unit} or more`))
  } else if (limits.max !== undefined) {
    pieces.push(say('at most '), end(limits.max, 'max'), say(unit))
  }
  const softly = (value: number, side: 'min' | 'max') => {
    // a condition on a phase has one softer end only, written plainly
    const path = at.endsWith(']') || besideTheOnlyEnd(limits, side) ? 'warn' : `warn.${side}`
    pieces.push(say(`${pieces.length > 0 ? ', ' : ''}warn ${side === 'min' ? 'below' : 'above'} `), end(value, path))
  }
  if (limits.warnMin !== undefined) softly(limits.warnMin, 'min')
  if (limits.warnMax !== undefined) softly(limits.warnMax, 'max')
  return pieces
}

/** Whether a count has one end only, and that is 1. */
const isOne = ({ min, max }: Limits): boolean => (min === undefined || max === undefined) && (min ?? max) === 1

/** Whether this softer end is written as plain `warn`, beside the only hard end. */
function besideTheOnlyEnd({ min, max, warnMin, warnMax }: Limits, side: 'min' | 'max'): boolean {
  return side === 'min'
    ? min !== undefined && max === undefined && warnMax === undefined
    : max !== undefined && min === undefined && warnMin === undefined
}
