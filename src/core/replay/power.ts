import type { Check } from '../definitions/check'
import { DAY, type Milliseconds } from '../units'

/** What a rule for down can be expected to do. */
export interface Power {
  /** Expected time from the beginning of an outage that every location sees until it is called. */
  detection: Milliseconds
  /** Expected false alarms in 30 days. */
  falseAlarms: number
}

const MONTH = 30 * DAY

/**
 * What to expect of a rule: with a chance p that a single try fails by itself, a location fails its tries with q = p^tries,
 * and at least k of n locations agree with the tail of the binomial distribution, or of the beta-binomial where locations
 * tend to fail together. One round of tries in each period can raise an alarm.
 * @param p share of tries that fail by chance
 * @param together how much locations fail together, from 0 (each for itself) to 1 (always all)
 */
export function powerOf(check: Pick<Check, 'every' | 'down' | 'turns'>, locations: number, p: number, together = 0): Power {
  const { down, every, turns } = check
  const n = Math.max(1, locations)
  const k = Math.max(1, Math.min(down.locations, n))
  const q = down.of === undefined ? p ** down.tries : tail(down.of, down.tries, p)
  const first = turns === 'in-turn' ? every / 2 : every / (n + 1)
  return { detection: first + (down.tries - 1) * down.apart, falseAlarms: (MONTH / every) * betaTail(n, k, q, together) }
}

/** The chance of at least k successes in n independent tries. */
export function tail(n: number, k: number, p: number): number {
  let sum = 0
  for (let count = Math.max(0, k); count <= n; count += 1) sum += Math.exp(logChoose(n, count) + (count === 0 ? 0 : count * Math.log(p)) + (count === n ? 0 : (n - count) * Math.log1p(-p)))
  return Math.min(1, p === 0 ? (k <= 0 ? 1 : 0) : sum)
}

/**
 * The same where tries are alike: the beta-binomial distribution with mean p and intraclass correlation `together`,
 * alpha = p(1 − r)/r, beta = (1 − p)(1 − r)/r.
 */
export function betaTail(n: number, k: number, p: number, together: number): number {
  if (together <= 0 || p === 0 || p === 1) return tail(n, k, p)
  if (together >= 1) return k <= 0 ? 1 : p
  const [alpha, beta] = [(p * (1 - together)) / together, ((1 - p) * (1 - together)) / together]
  let sum = 0
  for (let count = Math.max(0, k); count <= n; count += 1) sum += Math.exp(logChoose(n, count) + logBeta(count + alpha, n - count + beta) - logBeta(alpha, beta))
  return Math.min(1, sum)
}

const logChoose = (n: number, k: number) => logGamma(n + 1) - logGamma(k + 1) - logGamma(n - k + 1)
const logBeta = (a: number, b: number) => logGamma(a) + logGamma(b) - logGamma(a + b)

/** The logarithm of the gamma function (Lanczos approximation, g = 7, nine terms). */
function logGamma(x: number): number {
  if (x < 0.5) return Math.log(Math.PI / Math.abs(Math.sin(Math.PI * x))) - logGamma(1 - x)
  const terms = [0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059, 12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7]
  const base = x - 1 + 7.5
  const sum = terms.slice(1).reduce((total, term, index) => total + term / (x - 1 + index + 1), terms[0]!)
  return 0.5 * Math.log(2 * Math.PI) + (x - 0.5) * Math.log(base) - base + Math.log(sum)
}
