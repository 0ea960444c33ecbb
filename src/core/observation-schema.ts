import { OCCASIONS, PHASES, VERDICTS, type Observation } from './observation'
import { describeFound, type Problem } from './problems'

const isNumber = (value: unknown, least: number, most: number) => typeof value === 'number' && value >= least && value <= most
const isText = (value: unknown, most: number) => typeof value === 'string' && value.length <= most

const isReadings = (value: unknown) => value !== null && typeof value === 'object' && Object.keys(value).length <= 300 &&
  Object.entries(value).every(([name, number]) => name.length <= 80 && typeof number === 'number' && Number.isFinite(number))

const areSteps = (value: unknown) => Array.isArray(value) && value.length <= 100 && value.every((each: Record<string, unknown> | null) =>
  each !== null && typeof each === 'object' && isText(each.name, 200) && isNumber(each.took, 0, 1e7) && (each.status === undefined || isNumber(each.status, 0, 999)) && (each.failed === undefined || each.failed === true))

/** What each field of an observation from a probe must be. Written by hand: thousands arrive every second. */
const FIELDS: Record<string, { fits: (value: unknown) => boolean; expected: string; needed?: boolean }> = {
  check: { fits: (value) => Number.isInteger(value) && isNumber(value, 0, 4e9), expected: 'the number of a check', needed: true },
  location: { fits: (value) => Number.isInteger(value) && isNumber(value, 1, 65_535), expected: 'the number of a location', needed: true },
  at: { fits: (value) => Number.isInteger(value) && isNumber(value, 1e12, 1e14), expected: 'milliseconds since 1970', needed: true },
  occasion: { fits: (value) => OCCASIONS.includes(value as never), expected: OCCASIONS.join(', '), needed: true },
  verdict: { fits: (value) => VERDICTS.includes(value as never), expected: VERDICTS.join(', '), needed: true },
  version: { fits: (value) => isNumber(value, 0, 4e9), expected: 'the version of the definition', needed: true },
  total: { fits: (value) => isNumber(value, 0, 1e7), expected: 'milliseconds', needed: true },
  phases: { fits: (value) => value !== null && typeof value === 'object' && Object.entries(value).every(([phase, time]) => PHASES.includes(phase as never) && isNumber(time, 0, 1e7)), expected: 'milliseconds by phase', needed: true },
  reason: { fits: (value) => isText(value, 40), expected: 'a reason' },
  sentence: { fits: (value) => isText(value, 5000), expected: 'a sentence' },
  status: { fits: (value) => isNumber(value, 0, 999), expected: 'a status code' },
  address: { fits: (value) => isText(value, 60), expected: 'an address' },
  server: { fits: (value) => isText(value, 100), expected: 'the name of a server' },
  protocol: { fits: (value) => isText(value, 20), expected: 'a protocol' },
  resolver: { fits: (value) => isText(value, 100), expected: 'a resolver' },
  tlsVersion: { fits: (value) => isText(value, 40), expected: 'a version of TLS' },
  bytesSent: { fits: (value) => isNumber(value, 0, 4e9), expected: 'bytes' },
  bytesReceived: { fits: (value) => isNumber(value, 0, 4e9), expected: 'bytes' },
  certificateEnd: { fits: (value) => isNumber(value, 0, 1e15), expected: 'milliseconds since 1970' },
  readings: { fits: isReadings, expected: 'numbers by name' },
  steps: { fits: areSteps, expected: 'steps with a name and what each took, 100 at most' },
  evidence: { fits: (value) => value !== null && typeof value === 'object', expected: 'evidence' }
}

/** Reads observations as a probe sends them: all of them, or what is wrong with the first bad ones. */
export function readObservations(body: unknown): { observations: Observation[] } | { problems: Problem[] } {
  if (!Array.isArray(body)) return { problems: [{ path: '', found: describeFound(body), expected: 'a list of observations' }] }
  const problems: Problem[] = []
  for (const [index, each] of body.entries()) {
    if (problems.length > 10) break
    if (each === null || typeof each !== 'object') {
      problems.push({ path: `[${index}]`, found: describeFound(each), expected: 'an observation' })
      continue
    }
    const given = each as Record<string, unknown>
    for (const [name, field] of Object.entries(FIELDS)) {
      if (given[name] === undefined ? field.needed : !field.fits(given[name])) problems.push({ path: `[${index}].${name}`, found: describeFound(given[name]), expected: field.expected })
    }
    if (typeof given.sentence === 'string') given.sentence = given.sentence.slice(0, 480)
  }
  return problems.length > 0 ? { problems } : { observations: body as Observation[] }
}
