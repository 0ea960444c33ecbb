import type { CheckState } from '../states/check-state'
import { DAY, type Instant } from '../units'

/** What can be filtered of a check, as a table holds it. */
export interface Filterable {
  key: string
  name: string
  address: string
  service: string
  serviceKey: string
  stage: string
  client: string
  kind: string
  state: CheckState
  since: Instant
  muted: boolean
  importance: string
  tags: string[]
  /** Keys of the locations it runs from. */
  locations: string[]
  overrides: string[]
  /** Who hears when it goes down: keys of people and of the workspace's own channels; nobody while it is muted. */
  told: string[]
  /** How often it went down or slow in the last seven days. */
  troubles: number
}

/** Questions that are not about one field. */
export const QUESTIONS = {
  overrides: 'overrides something of its service', flaps: 'flaps', weeks: 'down for weeks', muted: 'muted', unrouted: 'no route: nobody is told', unserved: 'belongs to no service'
} as const
export type Question = keyof typeof QUESTIONS

export interface Filter {
  text?: string
  state?: string
  service?: string
  stage?: string
  client?: string
  kind?: string
  tag?: string
  location?: string
  importance?: string
  told?: string
  only?: Question
}

export const FILTER_FIELDS = ['text', 'state', 'service', 'stage', 'client', 'kind', 'tag', 'location', 'importance', 'told', 'only'] as const

/** So many troubles within seven days are flapping. */
export const FLAPS = 6
/** Down for so long, a check is asked about: moved, or retired? */
export const WEEKS = 14 * DAY

const answers: Record<Question, (row: Filterable, now: Instant) => boolean> = {
  overrides: (row) => row.overrides.length > 0,
  flaps: (row) => row.troubles >= FLAPS,
  weeks: (row, now) => row.state === 'down' && now - row.since >= WEEKS,
  muted: (row) => row.muted,
  unrouted: (row) => row.told.length === 0,
  unserved: (row) => row.serviceKey === ''
}

/** Whether a row passes every part of a filter. Text is looked for word by word in name, key, address, service and tags. */
export function matches(row: Filterable, filter: Filter, now: Instant): boolean {
  const { text, state, service, stage, client, kind, tag, location, importance, told, only } = filter
  if (state !== undefined && row.state !== state) return false
  if (service !== undefined && row.serviceKey !== service) return false
  if (stage !== undefined && row.stage !== stage) return false
  if (client !== undefined && row.client !== client) return false
  if (kind !== undefined && row.kind !== kind) return false
  if (tag !== undefined && !row.tags.includes(tag)) return false
  if (location !== undefined && !row.locations.includes(location)) return false
  if (importance !== undefined && row.importance !== importance) return false
  if (told !== undefined && !row.told.includes(told)) return false
  if (only !== undefined && !(answers[only]?.(row, now) ?? false)) return false
  if (text === undefined || text.trim() === '') return true
  const hay = `${row.name} ${row.key} ${row.address} ${row.service} ${row.tags.join(' ')}`.toLowerCase()
  return text.toLowerCase().split(/\s+/).every((word) => hay.includes(word))
}

/** Reads a filter from the query of an address; what is empty is left out. */
export function readFilter(query: { get: (name: string) => string | null }): Filter {
  return Object.fromEntries(FILTER_FIELDS.flatMap((field) => {
    const value = query.get(field)
    return value === null || value === '' ? [] : [[field, value]]
  })) as Filter
}
