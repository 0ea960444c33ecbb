import type { Problem } from '../problems'
import type { Message } from './message'

/** What own words may say of a message, with an example of each. */
export const MESSAGE_VALUES = {
  subject: 'Sailings API is down', text: 'all sentences of the message', news: 'down, slow or over', check: 'Sailings API', reason: 'the status is 503', failing: '5', locations: '12', since: '2026-11-24T02:14:05Z',
  lastPass: '2026-11-24T02:13:05Z', ended: '2026-11-24T02:31:40Z', with: 'Fares API, Checkout', service: 'Ticket sales, production', target: 'https://book.orrinsound.example/api/sailings', incident: '812', link: 'where it can be read', take: 'where it can be taken'
} as const
export type MessageValue = keyof typeof MESSAGE_VALUES

const PLACE = /\$\{([^}]*)\}/g
const MOST = 4000

/** Looks whether own words can be filled in: every `${…}` must be a value of messages, and JSON must stay JSON. */
export function templateProblems(path: string, template: string, form: 'text' | 'json'): Problem[] {
  if (template.length > MOST) return [{ path, found: `${template.length} characters`, expected: `at most ${MOST} characters` }]
  const unknown = [...template.matchAll(PLACE)].map((match) => match[1]!).find((name) => !Object.hasOwn(MESSAGE_VALUES, name))
  if (unknown !== undefined) return [{ path, found: `\${${unknown.slice(0, 50)}}`, expected: `one of ${Object.keys(MESSAGE_VALUES).map((name) => `\${${name}}`).join(', ')}` }]
  if (form === 'json' && !isJson(template.replace(PLACE, 'x'))) return [{ path, found: 'text that is not JSON', expected: 'a JSON value with ${…} inside its texts' }]
  return []
}

function isJson(text: string): boolean {
  try {
    JSON.parse(text)
    return true
  } catch {
    return false
  }
}

/** Fills own words in. A value that a message does not have is empty; in JSON, values are written as the inside of a text. */
export function fillTemplate(template: string, message: Message, form: 'text' | 'json' = 'text'): string {
  const own: Partial<Record<string, string | number>> = { ...message.facts, subject: message.subject, text: message.lines.join('\n'), news: message.news, ...(message.link ? { link: message.link } : {}), ...(message.take ? { take: message.take } : {}) }
  return template.replace(PLACE, (_, name: string) => {
    const value = String((Object.hasOwn(own, name) ? own[name] : undefined) ?? '')
    return form === 'json' ? JSON.stringify(value).slice(1, -1) : value
  })
}
