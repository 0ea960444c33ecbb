import { byCheck, byClock, byLocation, byNumber, byTag } from '@/core/findout/columns'
import { continentOf, DIMENSION_NAMES, type Dimension } from '@/core/findout/dimensions'
import { isOfSteps, type Question, type Where } from '@/core/findout/question'
import type { AskableNames } from '@/core/findout/question-sentence'
import { sheetsOf, type Span } from '@/core/findout/against'
import type { LoadedTries, SheetColumn, TextColumn } from '@/core/findout/sheet'
import { pick, placesOf, type Column, type Tries } from '@/core/findout/tries'
import { hostOfTarget } from '@/core/incidents/together'
import { BESIDE } from '@/core/observation'
import { partyOf, type Party } from '@/core/parties/parties'
import { outside } from '@/core/places/places'
import { stepsOf } from '@/kinds/definitions'
import { speakService } from '@/core/definitions/service'
import type { StoredCheck } from '@/store/checks'
import { listClients } from '@/store/clients'
import { database } from '@/store/database'
import { listLocations, type Location } from '@/store/locations'
import { listParties } from '@/store/parties'
import { loadSteps } from '@/store/steps'
import { countInSheets, loadFromSheets, type WantedOfSheets } from '@/store/sheets'
import { countTries, loadTries } from '@/store/tries-in-columns'
import { listServices, type StoredService } from '@/store/world'
import { allChecks } from './definitions'
import { settings } from './session'

/** Everything a question can be about. */
export interface AskedWorld {
  checks: StoredCheck[]
  services: StoredService[]
  locations: Location[]
  parties: Party[]
  names: AskableNames
  zone: string
}

/** An answer looks at so many tries one by one, a verdict at so many; of more, passing ones are thinned. */
const [MOST_ANSWERED, MOST_JUDGED] = [2_000_000, 250_000]
/** Sheets that hold more tries than this, of all checks, cost more than the few that are wanted of them. */
const MOST_READ = 3_000_000
/** What a verdict measures. */
const JUDGED = ['lookup', 'connect', 'tls', 'wait', 'receive', 'total', ...BESIDE] as const

export async function askedWorld(): Promise<AskedWorld> {
  const on = database()
  const [checks, services, locations, parties, clients, { zone }] = await Promise.all([allChecks(), listServices(on), listLocations(on), listParties(on), listClients(on), settings()])
  const asked = checks.filter(({ check }) => !check.isInside)
  const seen = outside(locations)
  const map = (values: Iterable<readonly [string, string]>) => new Map(values)
  const plain = (values: Iterable<string>) => map([...new Set(values)].sort().map((each) => [each, each] as const))
  const countries = new Intl.DisplayNames(['en'], { type: 'region' })
  return {
    checks: asked, services, locations: seen, parties, zone,
    names: {
      about: map([...services.map((each) => [`service/${each.key}`, speakService(each)] as const), ...asked.map(({ check }) => [`check/${check.key}`, check.name] as const)]),
      values: {
        check: map(asked.map(({ check }) => [check.key, check.name] as const)), service: map(services.map((each) => [each.key, speakService(each)] as const)), client: map(clients.map((each) => [each.key, each.name] as const)),
        stage: plain(services.map((each) => each.stage)), tag: plain(asked.flatMap(({ check }) => check.tags)), kind: plain(asked.map(({ check }) => check.kind)), step: plain(asked.flatMap(({ check }) => stepsOf(check))), location: map(seen.map((each) => [each.key, each.place] as const)),
        country: map(seen.map((each) => [each.country, countries.of(each.country) ?? each.country] as const)), continent: plain(seen.map((each) => continentOf(each.country))), network: plain(seen.map((each) => each.network)), 'network type': plain(seen.map((each) => each.networkType))
      }
    }
  }
}

/** What a check or a location is, for the dimensions that are known without looking at tries. */
export function fixed(world: AskedWorld) {
  const service = new Map(world.services.map((each) => [each.id, each]))
  const check = new Map(world.checks.map((each) => [each.id, each]))
  const location = new Map(world.locations.map((each) => [each.id, each]))
  const own = (id: number) => service.get(check.get(id)?.serviceId ?? -1)
  const ofCheck: Partial<Record<Dimension, (id: number) => string | undefined>> = {
    check: (id) => check.get(id)?.check.key, service: (id) => own(id)?.key, stage: (id) => own(id)?.stage, client: (id) => own(id)?.client, kind: (id) => check.get(id)?.check.kind, host: (id) => { const found = check.get(id); return found && hostOfTarget(found.address) }
  }
  const ofLocation: Partial<Record<Dimension, (id: number) => string | undefined>> = {
    location: (id) => location.get(id)?.key, country: (id) => location.get(id)?.country, continent: (id) => { const found = location.get(id); return found && continentOf(found.country) }, network: (id) => location.get(id)?.network, 'network type': (id) => location.get(id)?.networkType
  }
  return { ofCheck, ofLocation, tags: (id: number) => check.get(id)?.check.tags ?? [] }
}

const allows = ({ values, not }: Where, found: readonly (string | undefined)[]) => values.some((value) => found.includes(value)) !== not

/** The checks and locations a question is about, as far as it can be told without looking at tries. */
export function chosen(question: Question, world: AskedWorld): { checks: StoredCheck[]; locations: Location[]; rest: Where[] } {
  const { ofCheck, ofLocation, tags } = fixed(world)
  const isAbout = ({ check, serviceId }: StoredCheck) => question.about.length === 0 || question.about.includes(`check/${check.key}`) || world.services.some((each) => each.id === serviceId && question.about.includes(`service/${each.key}`))
  const checkDemands = question.where.filter((each) => each.dimension in ofCheck || each.dimension === 'tag')
  const locationDemands = question.where.filter((each) => each.dimension in ofLocation)
  return {
    checks: world.checks.filter((stored) => isAbout(stored) && checkDemands.every((each) => allows(each, each.dimension === 'tag' ? tags(stored.id) : [ofCheck[each.dimension]!(stored.id)]))),
    locations: world.locations.filter((place) => locationDemands.every((each) => allows(each, [ofLocation[each.dimension]!(place.id)]))),
    rest: question.where.filter((each) => !checkDemands.includes(each) && !locationDemands.includes(each))
  }
}

/** Which columns of the store say what a try is by a dimension; those that are not here follow from check, location or time. */
const STORED: Partial<Record<Dimension, 'status' | TextColumn>> = { server: 'server', address: 'address', party: 'address', 'HTTP version': 'protocol', 'TLS version': 'tlsVersion', resolver: 'resolver', status: 'status', reason: 'reason' }
const MOST_TAGS = 60

/** The columns of loaded tries: every one, or those of some dimensions. */
export function columnsOf(loaded: LoadedTries, world: AskedWorld, only: readonly Dimension[] = DIMENSION_NAMES): Column[] {
  const { ofCheck, ofLocation, tags } = fixed(world)
  const { tries, texts } = loaded
  const text = (number: number) => texts.get(number)
  const allTags = [...new Set(world.checks.flatMap((stored) => stored.check.tags))].slice(0, MOST_TAGS)
  return DIMENSION_NAMES.filter((each) => only.includes(each)).flatMap((dimension): Column[] => {
    const [check, location] = [ofCheck[dimension], ofLocation[dimension]]
    if (check) return [byCheck(tries, dimension, check)]
    if (location) return [byLocation(tries, dimension, location)]
    if (dimension === 'weekday' || dimension === 'hour') return [byClock(tries, dimension, world.zone)]
    if (dimension === 'tag') return allTags.map((tag) => byTag(tries, tag, (each) => tags(each).includes(tag)))
    if (dimension === 'party') return world.parties.length === 0 ? [] : [partyColumn(loaded, world)]
    if (dimension === 'status') return [byNumber(loaded.status, dimension, String)]
    if (dimension === 'step') return loaded.step ? [byNumber(loaded.step, dimension, text)] : []
    const isVersion = dimension === 'HTTP version' ? /^HTTP/ : /./
    return [byNumber(loaded[STORED[dimension] as TextColumn], dimension, (number) => (isVersion.test(text(number) ?? '') ? text(number) : undefined))]
  })
}

/** Who each try went to: by the address that answered, or the host of the check. */
function partyColumn({ tries, texts, address }: LoadedTries, world: AskedWorld): Column {
  const hosts = new Map(world.checks.map((stored) => [stored.id, hostOfTarget(stored.address)]))
  const numbers = new Map<string, number>()
  const names: string[] = []
  const known = new Map<number, number>()
  const codes = new Int32Array(tries.count)
  for (let index = 0; index < tries.count; index += 1) {
    const key = address[index]! * 2 ** 22 + tries.check[index]!
    let code = known.get(key)
    if (code === undefined) {
      const [host, at] = [hosts.get(tries.check[index]!), texts.get(address[index]!)]
      const name = partyOf(world.parties, { ...(host === undefined ? {} : { host }), ...(at === undefined ? {} : { address: at }) })?.name
      code = name === undefined ? -1 : numbers.get(name) ?? names.push(name) - 1
      if (name !== undefined) numbers.set(name, code)
      known.set(key, code)
    }
    codes[index] = code
  }
  return { dimension: 'party', codes, names }
}

/** Leaves only tries that the demands on single tries allow. */
export function narrowed(tries: Tries, rest: Where[]): Tries {
  if (rest.length === 0) return tries
  const looked = rest.flatMap((demand) => tries.columns.filter((each) => each.dimension === demand.dimension).map((column) => ({ demand, column, wanted: new Set(demand.values.map((value) => column.names.indexOf(value))) })))
  return pick(tries, placesOf(tries, (index) => looked.every(({ demand, column, wanted }) => wanted.has(column.codes[index]!) !== demand.not)))
}

/** What was loaded a moment ago: a page, its dots and its verdict ask for the same tries. */
const loaded = new Map<string, { until: number; tries: Promise<{ tries: Tries; thinned: number }> }>()
const [LOADED_FOR, MOST_LOADED] = [60_000, 4]

/** What tries are loaded for: an answer reads the columns it is about, a verdict all of them. */
export type LoadedFor = 'answer' | 'verdict'

/** The tries of a question, with their columns. */
export function triesOf(question: Question, world: AskedWorld, range: { from: number; to: number }, purpose: LoadedFor): Promise<{ tries: Tries; thinned: number }> {
  const key = JSON.stringify([question.about, question.where, question.metric, range, purpose, purpose === 'answer' ? question.by : isOfSteps(question)])
  const now = Date.now()
  for (const [each, { until }] of loaded) if (until < now || (loaded.size >= MOST_LOADED && each !== key)) loaded.delete(each)
  const found = loaded.get(key)
  if (found) return found.tries
  const tries = loadFor(question, world, range, purpose)
  loaded.set(key, { until: now + LOADED_FOR, tries })
  tries.catch(() => loaded.delete(key))
  return tries
}

async function loadFor(question: Question, world: AskedWorld, range: { from: number; to: number }, purpose: LoadedFor): Promise<{ tries: Tries; thinned: number }> {
  const { rest } = chosen(question, world)
  const only = purpose === 'verdict' ? DIMENSION_NAMES : [...new Set([question.by, ...rest.map((each) => each.dimension)])]
  const wanted = { ...numbersOf(question, world), ...range }
  const isApart = (await countInSheets(database(), range)) > MOST_READ
  const read = await readTries(question, { ...wanted, columns: columnsRead(question, only, purpose), most: purpose === 'verdict' ? MOST_JUDGED : MOST_ANSWERED }, isApart)
  return { tries: narrowed({ ...read.tries, columns: columnsOf(read, world, only) }, rest), thinned: read.thinned }
}

/**
 * Reads single steps where a question is about them; otherwise whole tries, from their sheets, or, where the sheets hold far more than is wanted,
 * from the observations themselves. Of more than can be looked at, passing ones are thinned.
 */
async function readTries(question: Question, wanted: WantedOfSheets, isApart = false): Promise<LoadedTries> {
  const on = database()
  if (!isApart && !isOfSteps(question)) return loadFromSheets(on, wanted)
  const thinned = Math.max(1, Math.ceil((await countTries(on, wanted)) / MOST_JUDGED))
  return isOfSteps(question) ? loadSteps(on, { ...wanted, thinned }) : loadTries(on, { ...wanted, metric: question.metric, thinned })
}

function numbersOf(question: Question, world: AskedWorld): { checks: number[]; locations: number[] } {
  const { checks, locations } = chosen(question, world)
  return { checks: checks.map((each) => each.id), locations: locations.map((each) => each.id) }
}

const columnsRead = (question: Question, only: readonly Dimension[], purpose: LoadedFor): SheetColumn[] =>
  [...new Set([...(purpose === 'verdict' ? JUDGED : []), question.metric, 'loss' as const, ...only.flatMap((each) => STORED[each] ?? [])])]

/**
 * The tries of some stretches of time, for a verdict. Of more than can be looked at one by one, those of a share of all ten minutes are taken
 * whole: which of them fail, and what comes after what, stays as it is.
 * @returns the share of the time whose tries were taken, 0 to 1
 */
export async function triesOfSpans(question: Question, world: AskedWorld, spans: Span[]): Promise<{ tries: Tries; share: number }> {
  const { rest } = chosen(question, world)
  const on = database()
  const range = { from: Math.min(...spans.map((each) => each.from)), to: Math.max(...spans.map((each) => each.to)) }
  const wanted = { ...numbersOf(question, world), ...range }
  const covered = spans.reduce((sum, each) => sum + each.to - each.from, 0) / (range.to - range.from)
  const [own, all] = await Promise.all([countTries(on, wanted), countInSheets(on, range)])
  const share = isOfSteps(question) ? 1 : Math.min(1, MOST_JUDGED / Math.max(1, own * covered), MOST_READ / Math.max(1, all * covered))
  const read = await readTries(question, { ...wanted, columns: columnsRead(question, DIMENSION_NAMES, 'verdict'), most: 2 * MOST_JUDGED, sheets: sheetsOf(spans, share) })
  const tries = narrowed({ ...read.tries, columns: columnsOf(read, world) }, rest)
  return { tries: pick(tries, placesOf(tries, (index) => isIn(spans, tries.at[index]!))), share }
}

const isIn = (spans: readonly Span[], at: number) => spans.some((each) => at >= each.from && at < each.to)
