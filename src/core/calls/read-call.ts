import { describeFound, type Problem } from '../problems'
import type { Call } from '../inside/inside'

/** The end of an output is what tells most. */
const OUTPUT_KEPT = 10_000

/**
 * Reads what a job says when it calls: `event` (begin or end, the default), `exit` (a code from 0 to 255) and `run` from
 * the query, or all of them and `output` from a JSON body; any other body is the output itself.
 */
export function readCall(query: URLSearchParams, body: string, type: string): { call: Omit<Call, 'at'> } | { problems: Problem[] } {
  const given: Record<string, unknown> = Object.fromEntries(query)
  if (/json/i.test(type) && body.trim() !== '') {
    try {
      const written: unknown = JSON.parse(body)
      if (written === null || typeof written !== 'object' || Array.isArray(written)) return { problems: [{ path: '', found: describeFound(written), expected: 'an object with event, exit, run or output' }] }
      Object.assign(given, written)
    } catch {
      return { problems: [{ path: '', found: describeFound(body.slice(0, 60)), expected: 'JSON' }] }
    }
  } else if (body !== '') given.output = body
  const { event = 'end', exit = 0, run, output } = given
  const problems: Problem[] = []
  const code = typeof exit === 'string' && /^\d{1,3}$/.test(exit) ? Number(exit) : exit
  if (event !== 'begin' && event !== 'end') problems.push({ path: 'event', found: describeFound(event), expected: 'begin or end' })
  if (typeof code !== 'number' || !Number.isInteger(code) || code < 0 || code > 255) problems.push({ path: 'exit', found: describeFound(exit), expected: 'an exit code from 0 to 255' })
  if (run !== undefined && (typeof run !== 'string' || run === '' || run.length > 100)) problems.push({ path: 'run', found: describeFound(run), expected: 'a name of 1 to 100 characters' })
  if (output !== undefined && typeof output !== 'string') problems.push({ path: 'output', found: describeFound(output), expected: 'text' })
  if (problems.length > 0) return { problems }
  const kept = typeof output === 'string' ? output.slice(-OUTPUT_KEPT) : ''
  return { call: { event: event as Call['event'], ...(event === 'end' ? { exit: code as number } : {}), ...(run === undefined ? {} : { run: run as string }), ...(kept === '' ? {} : { output: kept }) } }
}
