import type { Check } from '../../core/definitions/check'
import { speakLength } from '../../core/definitions/duration'
import type { Push } from '../../core/inside/inside'
import type { Numbers, Sample } from '../../core/numbers/points'
import { readExposition } from '../../core/numbers/read-exposition'
import { readPushed } from '../../core/numbers/read-pushed'
import { fitsSelector, nameOf, NumbersError } from '../../core/numbers/sample'
import { numbersOf, ratesOf } from '../../core/numbers/series'
import { HOUR, MINUTE, type Milliseconds } from '../../core/units'
import { runnerOf, type Trying } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { askHttp } from '../http/ask'
import { numbersDefinition, type NumbersTarget } from './definition'

/** The largest exposition that is read, in bytes. */
const EXPOSITION_MOST = 10_000_000
/** How many numbers are kept with an observation, and how many evidence shows. */
const KEPT = 40
const SHOWN = 300
const NAME_KEPT = 80
/** How long a number that has passed a limit counts as bad while it is neither beyond it nor back inside by the margin. */
const LINGERS = 2 * HOUR

export const numbersRunner = runnerOf(numbersDefinition, async (target, trying, check) => {
  const conditions = check.pass.flatMap(({ test }) => (test.on === 'metric' ? [test] : []))
  const names = [...new Set(conditions.map((test) => nameOf(test.name)))]
  // a number is judged by its past: as long as it must stay beyond a limit, and again as long to see it come back;
  // one that lingers between a limit and its margin is remembered for a good while
  const window = Math.max(10 * MINUTE, ...conditions.map((test) => 2 * test.for + (test.margin > 0 ? LINGERS : 5 * MINUTE)))
  const pushes = target.scrape === undefined ? await pushed(target, trying, names, window) : await scraped(target, trying, names, window)
  if (typeof pushes === 'string') return { said: { verdict: 'warn', reason: 'numbers-awaited', sentence: pushes } }
  const numbers = numbersOf(pushes, target.scrape === undefined ? target.silent : 0)
  trying.readings.numbers = numbers.latest.length
  for (const [key, value] of chosen(numbers, check)) if (key.length <= NAME_KEPT) trying.readings[key] = value
  trying.evidence.tables = [{ title: 'Numbers', columns: [{ name: 'number', as: 'code' }, { name: 'value', as: 'number' }], rows: numbers.latest.slice(0, SHOWN).map(([key, value]) => [key, Number(value.toPrecision(8))]) }]
  return { numbers }
})

/** What is kept with the observation: the numbers that conditions look at, grown by a second where they ask for that, then the first others. */
function chosen({ latest, series }: Numbers, check: Check<NumbersTarget>): Sample[] {
  const asked = check.pass.flatMap(({ test }): Sample[] => {
    if (test.on !== 'metric') return []
    return latest.filter(([key]) => fitsSelector(test.name)(key)).flatMap(([key, value]): Sample[] => {
      const rate = test.rate ? ratesOf(series[key] ?? []).at(-1)?.[1] : undefined
      return [[key, value], ...(rate === undefined ? [] : [[`${key} a second`, rate] as Sample])]
    })
  })
  return [...new Map([...asked, ...latest].slice(0, KEPT))]
}

async function pushed({ silent, host }: NumbersTarget, trying: Trying, names: string[], window: Milliseconds): Promise<Push[] | string> {
  const { now, made, pushes, away } = await trying.inside({ pushes: { since: Date.now() - window, names } })
  const last = pushes.at(-1)
  trying.evidence.facts = [['last push', last ? speakLength(now - last.at) + ' ago' : 'none yet']]
  // nobody could push while Hemeron was away
  const since = Math.max(last?.at ?? made ?? now, away?.to ?? 0)
  if (last) trying.readings.age = now - last.at
  if (now - since > silent) await explainSilence(trying, host, last ? `no numbers have come for ${speakLength(now - last.at)}` : 'no numbers have ever come')
  if (!last) return made === undefined ? 'the address to push to is there once the check is saved' : 'no numbers have come yet'
  return pushes
}

/** Tells a silent script apart from a dead host, by a ping. */
async function explainSilence(trying: Trying, host: string | undefined, said: string): Promise<never> {
  if (host === undefined) throw new TryFailure('numbers-stopped', said)
  const address = await trying.address(host).catch((error: unknown) => { throw new TryFailure('numbers-stopped', `${said}; ${host} could not be asked by ping: ${error instanceof Error ? error.message : String(error)}`) })
  const answers = (await trying.link.ping(address, { count: 3, size: 56, interval: 200, wait: 2000 }, trying.signal)).filter((time) => time !== null)
  trying.evidence.facts = [...(trying.evidence.facts ?? []), ['ping', answers.length > 0 ? `${host} answers` : `${host} does not answer`]]
  if (answers.length > 0) throw new TryFailure('numbers-stopped', `${said}, but ${host} answers a ping: the script is silent, the host is not`)
  throw new TryFailure('host-silent', `${said}, and ${host} does not answer a ping either`)
}

/** Fetches an exposition. The past of the numbers is what this probe has fetched since it began. */
async function scraped({ scrape, token, verify }: NumbersTarget, trying: Trying, names: string[], window: Milliseconds): Promise<Push[]> {
  const { status, headers, body } = await askHttp(trying, {
    url: new URL(scrape!), unverified: !verify, redirects: 3, most: EXPOSITION_MOST,
    headers: { accept: 'application/openmetrics-text;version=1.0.0,text/plain;version=0.0.4;q=0.8,application/json;q=0.5', ...(token === undefined ? {} : { authorization: `Bearer ${token}` }) }
  })
  trying.noted.status = status
  const text = trying.answer(body)
  if (status === 401 || status === 403) throw new TryFailure('login-refused', `the server answers ${status}`)
  if (status < 200 || status > 299) throw new TryFailure('status', `the server answers ${status} instead of numbers`)
  const type = headers.find(([name]) => name.toLowerCase() === 'content-type')?.[1] ?? ''
  const now = Date.now()
  const samples = reading(() => (/json/.test(type) ? readPushed(text, type) : readExposition(text)))
  if (samples.length === 0) throw new TryFailure('bad-answer', 'there is no number in the answer')
  const wanted = new Set(names)
  const before = (trying.memory.get('pushes') as Push[] | undefined ?? []).filter((push) => push.at >= now - window)
  trying.memory.set('pushes', [...before, { at: now, samples: samples.filter(([key]) => wanted.has(nameOf(key))) }])
  return [...before, { at: now, samples }]
}

function reading(read: () => Sample[]): Sample[] {
  try {
    return read()
  } catch (error) {
    throw error instanceof NumbersError ? new TryFailure('bad-answer', error.message) : error
  }
}
