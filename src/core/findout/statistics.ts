/**
 * ln Γ(x) for x > 0, by the Lanczos approximation (C. Lanczos, SIAM J. Numer. Anal. B 1, 1964; g = 7, 9 terms); the
 * relative error is below 1e-13.
 */
export function lnGamma(x: number): number {
  if (x < 0.5) return Math.log(Math.PI / Math.sin(Math.PI * x)) - lnGamma(1 - x)
  const t = x - 1 + LANCZOS_G + 0.5
  let sum = LANCZOS[0]!
  for (let index = 1; index < LANCZOS.length; index += 1) sum += LANCZOS[index]! / (x - 1 + index)
  return 0.5 * Math.log(2 * Math.PI) + (x - 0.5) * Math.log(t) - t + Math.log(sum)
}

const LANCZOS_G = 7
const LANCZOS = [0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059, 12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7]

const lnChoose = (n: number, k: number) => lnGamma(n + 1) - lnGamma(k + 1) - lnGamma(n - k + 1)

/**
 * Fisher's exact test, one-sided: how likely at least `a` of the failures fall on a group by chance, given the margins
 * (R. A. Fisher, 1922). Counts are whole.
 * @param a failing in the group, b passing in it, c failing outside, d passing outside
 */
export function fisherExact(a: number, b: number, c: number, d: number): number {
  const [group, fails, all] = [a + b, a + c, a + b + c + d]
  const base = lnChoose(all, fails)
  let sum = 0
  for (let k = a; k <= Math.min(group, fails); k += 1) {
    const term = Math.exp(lnChoose(group, k) + lnChoose(all - group, fails - k) - base)
    sum += term
    if (term < sum * 1e-12) break
  }
  return Math.min(1, sum)
}

/** The upper tail of the standard normal distribution (Abramowitz and Stegun 7.1.26 for small z, its asymptotic series beyond 6). */
export function normalTail(z: number): number {
  if (z < 0) return 1 - normalTail(-z)
  if (z > 6) return (Math.exp((-z * z) / 2) / (z * Math.sqrt(2 * Math.PI))) * (1 - 1 / (z * z) + 3 / z ** 4)
  const x = z / Math.SQRT2
  const t = 1 / (1 + 0.3275911 * x)
  const poly = t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))))
  return 0.5 * poly * Math.exp(-x * x)
}

/**
 * How often a value of one histogram lies above a value of the other one, ties half: the statistic of Mann and Whitney
 * divided by its greatest value. One half means no difference.
 * @param one, other counts in bins of rising value
 */
export function shareAbove(one: ArrayLike<number>, other: ArrayLike<number>): number {
  let [below, above, oneAll, otherAll] = [0, 0, 0, 0]
  for (let bin = 0; bin < one.length; bin += 1) {
    above += one[bin]! * (below + other[bin]! / 2)
    below += other[bin]!
    oneAll += one[bin]!
    otherAll += other[bin]!
  }
  return oneAll === 0 || otherAll === 0 ? 0.5 : above / (oneAll * otherAll)
}

/**
 * How unlikely such a difference is by chance (Mann and Whitney, 1947, normal approximation, two-sided).
 * @param share as shareAbove gives it
 * @param n1, n2 how many independent values stand behind the two sides
 */
export function rankTest(share: number, n1: number, n2: number): number {
  if (n1 < 1 || n2 < 1) return 1
  return Math.min(1, 2 * normalTail(Math.abs(share - 0.5) / Math.sqrt((n1 + n2 + 1) / (12 * n1 * n2))))
}

/** Adjusts p-values for many looks at once, by the false discovery rate (Benjamini and Hochberg, 1995). Gives them in the order they came. */
export function adjusted(values: readonly number[]): number[] {
  const order = values.map((value, index) => ({ value, index })).sort((a, b) => b.value - a.value)
  const found = new Array<number>(values.length)
  let least = 1
  order.forEach(({ value, index }, place) => {
    least = Math.min(least, (value * values.length) / (values.length - place))
    found[index] = least
  })
  return found
}

/** Twice the gain in log-likelihood from giving two groups their own chance of failing (G statistic). */
export function likelihoodGain(a: number, n1: number, c: number, n2: number): number {
  const part = (k: number, n: number, p: number) => (k > 0 ? k * Math.log(k / (n * p)) : 0) + (n - k > 0 ? (n - k) * Math.log((n - k) / (n * (1 - p))) : 0)
  const p = (a + c) / (n1 + n2)
  return p === 0 || p === 1 ? 0 : 2 * (part(a, n1, p) + part(c, n2, p))
}
