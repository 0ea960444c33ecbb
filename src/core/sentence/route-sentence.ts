import { IMPORTANCES, type Importance } from '../definitions/check'
import { parseDuration, readSpokenDuration, speakDuration } from '../definitions/duration'
import { formatHours, parseHours } from '../hours/hours'
import { TROUBLES, type Trouble } from '../incidents/incident'
import { STATES_TOLD } from '../routing/fits'
import { MEANS, MEANS_WORDS, type Means } from '../routing/means'
import { acceptedRoute, type Route, type RouteDocument, type RouteStep } from '../routing/route'
import { say, type Sentence } from './sentence'

/** Names that sentences say for keys: `rota/ticketing` is “Ticketing on call”. */
export interface RoutingNames {
  /** By `rota/…`, `team/…`, `person/…`, `channel/…`. */
  tell: ReadonlyMap<string, string>
  services: ReadonlyMap<string, string>
  clients: ReadonlyMap<string, string>
  checks: ReadonlyMap<string, string>
  locations: ReadonlyMap<string, string>
  stages: string[]
  tags: string[]
}

type Written = Record<string, unknown>

/** How each demand of a route is said: the words before its values, and the names of its values. */
const PHRASES: { field: string; words: string; names?: keyof RoutingNames }[] = [
  { field: 'service', words: 'in', names: 'services' }, { field: 'stage', words: 'at stage' }, { field: 'client', words: 'for', names: 'clients' }, { field: 'tag', words: 'tagged' },
  { field: 'kind', words: 'of kind' }, { field: 'check', words: 'check', names: 'checks' }, { field: 'location', words: 'seen from', names: 'locations' }, { field: 'network', words: 'on network' }, { field: 'metric', words: 'whose number' }
]

const PLACES = /^at (\d+) or more locations$/
const LASTING = /^once it has lasted (.+)$/

/** How the states stand after “goes”. */
export const STATE_WORDS: Record<Trouble, string> = { down: 'down', slow: 'slow', warning: 'into warning', burn: 'into fast burn' }

/** Reads states as a sentence says them, joined by “or”; undefined when one is none. */
export function readStates(text: string): Trouble[] | undefined {
  const found = text.split(/ or /).map((each) => TROUBLES.find((state) => [state, STATE_WORDS[state]].includes(each.trim().toLowerCase())))
  return found.includes(undefined) ? undefined : (found as Trouble[])
}

function nameOf(names: RoutingNames, field: keyof RoutingNames | undefined, key: string): string {
  const known = field === undefined ? undefined : names[field]
  return known instanceof Map ? known.get(key) ?? key : key
}

/** Says what a route is about: “anything vital, in Harbour data, tagged sensors”. readMatch reads it back. */
export function speakMatch(when: Written, names: RoutingNames): string {
  const values = (field: string) => (when[field] === undefined ? [] : [when[field]].flat().map(String))
  const parts = PHRASES.flatMap(({ field, words, names: of }) => (values(field).length === 0 ? [] : [`${words} ${values(field).map((key) => nameOf(names, of, key)).join(' or ')}`]))
  const more = [
    ...(when.places === undefined ? [] : [`at ${String(when.places)} or more locations`]),
    ...(when.lasting === undefined ? [] : [`once it has lasted ${speakDuration(parseDuration(String(when.lasting))!)}`]),
    ...(when.hours === undefined ? [] : [`during ${[when.hours].flat().map((each) => formatHours(parseHours(String(each))!)).join(' or ')}`])
  ]
  const importance = values('importance')
  return [importance.length === 0 ? 'anything' : `anything ${importance.join(' or ')}`, ...parts, ...more].join(', ')
}

/**
 * Reads what a person typed about what a route is about, by names or keys.
 * @returns the demands of the written form without `state`, or what was expected
 */
export function readMatch(text: string, names: RoutingNames): { when: Written } | { expected: string } {
  const when: Written = {}
  for (const phrase of text.split(/,\s+/).map((each) => each.trim()).filter((each) => each !== '')) {
    const found = readPhrase(phrase, names)
    if (isExpectation(found)) return found
    Object.assign(when, found)
  }
  return { when }
}

const isExpectation = (found: Written): found is { expected: string } => 'expected' in found

function readPhrase(phrase: string, names: RoutingNames): Written | { expected: string } {
  const importance = phrase.replace(/^anything\b/, '').trim()
  if (importance === '' && phrase !== '') return {}
  const importances = importance.split(/ or /).map((each) => each.trim())
  if (importances.every((each) => IMPORTANCES.includes(each as Importance))) return { importance: unlisted(importances) }
  const places = PLACES.exec(phrase)
  if (places) return { places: Number(places[1]) }
  const lasting = LASTING.exec(phrase)?.[1]
  if (lasting !== undefined) {
    const length = readSpokenDuration(lasting)
    return length === undefined ? { expected: 'a time such as once it has lasted 15 min' } : { lasting: length }
  }
  const hours = /^during (.+)$/.exec(phrase)?.[1]?.split(/ or /)
  if (hours) return hours.every((each) => parseHours(each) !== undefined) ? { hours: unlisted(hours) } : { expected: 'hours such as during mon-fri 08:00-18:00' }
  const rule = PHRASES.find(({ words }) => phrase.startsWith(`${words} `))
  if (!rule) return { expected: 'anything, vital, in a service, at stage …, tagged …, check …, seen from …, on network …, whose number disk.used, at 3 or more locations, once it has lasted 15 min, or during mon-fri 08:00-18:00' }
  const keys = phrase.slice(rule.words.length + 1).split(/ or /).map((each) => each.trim())
  const known = rule.names === undefined ? undefined : (names[rule.names] as ReadonlyMap<string, string>)
  const read = keys.map((each) => (known === undefined ? each : keyNamed(known, each)))
  const wrong = read.findIndex((each) => each === undefined)
  return wrong >= 0 ? { expected: `${rule.words} something that exists, not “${keys[wrong]}”` } : { [rule.field]: unlisted(read as string[]) }
}

const unlisted = (values: string[]) => (values.length === 1 ? values[0] : values)
const keyNamed = (known: ReadonlyMap<string, string>, text: string) => (known.has(text) ? text : [...known].find(([, name]) => name.toLowerCase() === text.toLowerCase())?.[0])

const join = (all: string[]) => (all.length < 2 ? all.join('') : `${all.slice(0, -1).join(', ')} and ${all.at(-1)}`)
const split = (text: string) => text.split(/,| and /).map((each) => each.trim()).filter((each) => each !== '')
const plainTell = (tell: string, names: Pick<RoutingNames, 'tell'>) => (tell === 'everyone' ? 'everyone' : names.tell.get(tell) ?? tell)

/** Says whom a step tells, as part of a sentence. */
export const speakTell = (tell: string[], names: Pick<RoutingNames, 'tell'>): string => join(tell.map((each) => plainTell(each, names)))
export const speakMeans = (by: Means[] | undefined): string => (by === undefined ? 'every means' : join(by.map((each) => MEANS_WORDS[each])))

/** The sentence of a route. Every changeable part carries its place in the written form; changeRoute reads it back. */
export function routeSentence(document: RouteDocument, names: RoutingNames): Sentence {
  const route = acceptedRoute(document)
  return [
    say('When '), { text: speakMatch((document.when ?? {}) as Written, names), part: 'when', label: 'what it is about', offers: matchOffers(names) },
    say(' goes '), { text: (route.when.state ?? STATES_TOLD).map((each) => STATE_WORDS[each]).join(' or '), part: 'when.state', label: 'state', offers: ['down', 'slow', 'down or slow', 'into warning', 'into fast burn'] },
    ...route.then.flatMap((step, index) => stepSentence(step, index, names)), say('.'),
    // what most routes do goes without saying
    ...(route.notTwiceIn === undefined ? [] : [say(' '), { text: `Never twice in ${speakDuration(route.notTwiceIn)}`, part: 'notTwiceIn', label: 'how often it may tell of the same check', offers: ['Every time', 'Never twice in 1 h', 'Never twice in 6 h', 'Never twice in 1 d'] }, say('.')]),
    ...(route.urgent ? [say(' '), { text: 'Urgent', part: 'urgent', label: 'urgency', offers: ['Urgent', 'Not urgent'] }, say('.')] : []),
    ...(route.recovery ? [] : [say(' '), { text: 'Nobody hears that it is over', part: 'recovery', label: 'who hears that it is over', offers: ['Those told hear that it is over', 'Nobody hears that it is over'] }, say('.')]),
    ...(route.goOn ? [say(' '), { text: 'Routes below are asked too', part: 'goOn', label: 'whether routes below are asked', offers: ['Routes below are asked too', 'No route below is asked'] }, say('.')] : [])
  ]
}

function stepSentence(step: RouteStep, index: number, names: RoutingNames): Sentence {
  const at = `then[${index}]`
  const wait = { text: index === 0 && step.after === 0 ? 'at once' : speakDuration(step.after), part: `${at}.after`, label: index === 0 ? 'how long to wait first' : 'how long to wait', offers: [...(index === 0 ? ['at once'] : []), '5 min', '10 min', '15 min', '30 min'] }
  const unless = { text: step.unlessTaken ? 'nobody takes it' : 'it lasts', part: `${at}.unless`, label: 'what the step waits for', offers: ['nobody takes it', 'it lasts'] }
  return [
    ...(index === 0 ? [say(step.after === 0 ? ', tell ' : ', then tell ')] : [say('; if '), unless, say(step.unlessTaken ? ' in ' : ' '), wait, say(step.unlessTaken ? ', tell ' : ' longer, tell ')]),
    { text: speakTell(step.tell, names), part: `${at}.tell`, label: `whom step ${index + 1} tells`, offers: ['everyone', ...names.tell.values()] },
    // a channel is a means itself
    ...(step.tell.every((each) => each.startsWith('channel/')) ? [] : [say(' by '), { text: speakMeans(step.by), part: `${at}.by`, label: `by what step ${index + 1} tells`, offers: ['every means', ...MEANS.filter((each) => each !== 'chat' && each !== 'webhook').map((each) => MEANS_WORDS[each]), 'push and SMS', 'push and mail'] }]),
    ...(index === 0 ? [say(step.after === 0 ? ' ' : ' after '), wait] : []),
    ...(step.workingOnly ? [say(', '), { text: 'in their working hours only', part: `${at}.during`, label: `when step ${index + 1} tells`, offers: ['in their working hours only', 'at any hour'] }] : []),
    ...(step.again === undefined ? [] : [say(', '), { text: `again every ${speakDuration(step.again)}`, part: `${at}.again`, label: `how often step ${index + 1} tells`, offers: ['once', 'again every 15 min', 'again every 30 min', 'again every 2 h'] }])
  ]
}

const matchOffers = ({ services, stages, tags }: RoutingNames) => ['anything', 'anything vital', 'anything high or vital', ...[...services.values()].map((name) => `anything, in ${name}`), ...stages.map((stage) => `anything, at stage ${stage}`), ...tags.map((tag) => `anything, tagged ${tag}`)]

/**
 * Reads what a person typed into a part of a route's sentence.
 * @returns the document with that part changed, or what was expected. Whether whom it tells exists is judged when it is saved.
 */
export function changeRoute(document: RouteDocument, names: RoutingNames, part: string, typed: string): { document: RouteDocument } | { expected: string } {
  const text = typed.trim()
  const after = structuredClone(document)
  const step = /^then\[(\d+)\]\.(.+)$/.exec(part)
  if (step) {
    const changed = changeStep((after.then as Written[])[Number(step[1])]!, names, step[2]!, text)
    return changed ?? { document: after }
  }
  if (part === 'when') {
    const read = readMatch(text, names)
    if ('expected' in read) return read
    const state = (document.when as Written | undefined)?.state
    put(after, 'when', { ...read.when, ...(state === undefined ? {} : { state }) })
    if (Object.keys(after.when as Written).length === 0) delete after.when
    return { document: after }
  }
  if (part === 'when.state') {
    const states = readStates(text)
    if (!states) return { expected: 'down, slow, into warning, into fast burn, or several of these with or' }
    put(after, 'when', { ...(after.when as Written | undefined), state: unlisted(states) })
    return { document: after }
  }
  if (part === 'urgent') put(after, 'urgent', /^urgent/i.test(text) ? true : undefined)
  else if (part === 'recovery') put(after, 'recovery', /^nobody/i.test(text) ? 'nobody' : undefined)
  else if (part === 'notTwiceIn') {
    const length = readSpokenDuration(text.replace(/^never twice in /i, ''))
    if (length === undefined && !/^every time/i.test(text)) return { expected: 'every time, or never twice in 6 h' }
    put(after, 'notTwiceIn', length)
  } else if (part === 'goOn') put(after, 'goOn', /below are asked/i.test(text) ? true : undefined)
  else return { expected: 'a part of this route' }
  return { document: after }
}

function put(on: Written, field: string, value: unknown): void {
  if (value === undefined) delete on[field]
  else on[field] = value
}

function changeStep(step: Written, names: RoutingNames, field: string, text: string): { expected: string } | undefined {
  switch (field) {
    case 'tell': {
      const known = new Map([...names.tell, ['everyone', 'everyone']])
      const read = split(text).map((each) => keyNamed(known, each))
      if (read.length === 0 || read.includes(undefined)) return { expected: `one or more of ${[...known.values()].slice(0, 12).join(', ')}` }
      return void put(step, 'tell', unlisted(read as string[]))
    }
    case 'by': {
      const means = split(text.toLowerCase())
      if (text !== 'every means' && !(means.length > 0 && means.every((each) => MEANS.includes(each as Means)))) return { expected: `every means, or one or more of ${MEANS.map((each) => MEANS_WORDS[each]).join(', ')}` }
      return void put(step, 'by', text === 'every means' ? undefined : means)
    }
    case 'during': return void put(step, 'during', /working/i.test(text) ? 'working-hours' : undefined)
    case 'unless': return /^nobody/.test(text) ? void put(step, 'unless', 'taken') : /^it lasts/.test(text) ? void put(step, 'unless', undefined) : { expected: 'nobody takes it, or it lasts' }
    case 'after': case 'again': {
      if (field === 'after' ? text === 'at once' : text === 'once') return void put(step, field, undefined)
      const duration = readSpokenDuration(text.replace(/^again every |^every /, ''))
      return duration === undefined ? { expected: field === 'after' ? 'at once, or a time such as 10 min' : 'once, or again every 30 min' } : void put(step, field, duration)
    }
    default: return { expected: 'a part of this step' }
  }
}

/** How many checks each route takes, when all are asked in their order; hours are left out of account. */
export function countByRoute<Subject>(routes: readonly Route[], subjects: readonly Subject[], routesFor: (routes: Route[], subject: Subject) => Route[]): Map<string, number> {
  const counts = new Map(routes.map((route) => [route.key, 0]))
  const always = routes.map((route): Route => ({ ...route, when: { ...route.when, hours: undefined } }))
  for (const subject of subjects) for (const route of routesFor(always, subject)) counts.set(route.key, (counts.get(route.key) ?? 0) + 1)
  return counts
}
