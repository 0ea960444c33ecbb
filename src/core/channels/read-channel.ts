import { isHttpUrl } from '../definitions/http-url'
import { templateProblems } from '../messages/template'
import { readPhone } from '../people/phone'
import type { Problem } from '../problems'
import type { Means } from '../routing/means'

/** Where a channel leads and how it behaves, as it is stored. */
export type ChannelConfig = Record<string, unknown>

const isMail = (value: unknown) => typeof value === 'string' && value.length <= 200 && /^[^@\s]+@[^@\s]+\.[^@\s]+$/.test(value)
const shown = (value: unknown) => (value === undefined || value === '' ? 'nothing' : `"${String(value).slice(0, 100)}"`)
const ADDRESS = 'an http or https address'

/** What each means needs to know of the place it leads to. */
const NEEDS: Record<Means, { field: string; fits: (value: unknown) => boolean; expected: string }[]> = {
  mail: [{ field: 'to', fits: isMail, expected: 'a mail address' }],
  sms: [{ field: 'number', fits: (value) => readPhone(String(value)) !== undefined, expected: 'a phone number with its country, such as +44 7700 900123' }],
  voice: [{ field: 'number', fits: (value) => readPhone(String(value)) !== undefined, expected: 'a phone number with its country, such as +44 7700 900123' }],
  chat: [{ field: 'url', fits: isHttpUrl, expected: ADDRESS }],
  webhook: [{ field: 'url', fits: isHttpUrl, expected: ADDRESS }, { field: 'secret', fits: (value) => typeof value === 'string' && value.length >= 8 && value.length <= 200, expected: 'a secret of 8 characters or more, to sign with' }],
  push: [{ field: 'endpoint', fits: isHttpUrl, expected: 'what the browser gives' }, { field: 'p256dh', fits: Boolean, expected: 'what the browser gives' }, { field: 'auth', fits: Boolean, expected: 'what the browser gives' }]
}

/** Reads where a channel leads. Numbers are brought into their international form. */
export function readChannel(kind: Means, given: Record<string, unknown>): { config: ChannelConfig } | { problems: Problem[] } {
  const problems = NEEDS[kind].filter(({ field, fits }) => !fits(given[field])).map(({ field, expected }): Problem => ({ path: field, found: field === 'secret' ? `${String(given.secret ?? '').length} characters` : shown(given[field]), expected }))
  if (problems.length > 0) return { problems }
  const fields = [...NEEDS[kind].map((each) => each.field), ...(kind === 'chat' && given.topic ? ['topic'] : [])]
  const config = Object.fromEntries(fields.map((field) => [field, given[field]]))
  return { config: 'number' in config ? { number: readPhone(String(config.number))!.e164 } : config }
}

/** How a channel behaves: own words, how much it may send, and what stands in for it. */
export interface Behaviour {
  words?: string
  limit?: { most: number; minutes: number }
  fallback?: string
}

/** Looks through how a channel is to behave. `others` are all channels by their keys, with what stands in for each. */
export function behaviourProblems(key: string, kind: Means, { words, limit, fallback }: Behaviour, others: ReadonlyMap<string, string | undefined>): Problem[] {
  const whole = (value: number, most: number) => Number.isInteger(value) && value >= 1 && value <= most
  return [
    ...(words === undefined ? [] : templateProblems('words', words, kind === 'webhook' ? 'json' : 'text')),
    ...(limit === undefined || (whole(limit.most, 10_000) && whole(limit.minutes, 1440)) ? [] : [{ path: 'limit', found: `${limit.most} in ${limit.minutes} min`, expected: 'from 1 to 10000 messages in 1 to 1440 minutes' }]),
    ...(fallback === undefined ? [] : fallbackProblems(key, fallback, others))
  ]
}

function fallbackProblems(key: string, fallback: string, others: ReadonlyMap<string, string | undefined>): Problem[] {
  if (!others.has(fallback)) return [{ path: 'fallback', found: `"${fallback.slice(0, 100)}"`, expected: 'the key of another channel' }]
  const chain = [key]
  for (let next: string | undefined = fallback; next !== undefined; next = others.get(next)) {
    chain.push(next)
    if (chain.indexOf(next) < chain.length - 1) return [{ path: 'fallback', found: `a circle: ${chain.join(' to ')}`, expected: 'a channel that does not lead back here' }]
  }
  return []
}
