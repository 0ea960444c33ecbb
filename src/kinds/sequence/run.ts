import { randomUUID } from 'node:crypto'
import { CookieJar } from 'tough-cookie'
import { judgeConditions } from '../../core/conditions/judge-condition'
import { jsonValues } from '../../core/conditions/json-path'
import { readCondition } from '../../core/conditions/read-condition'
import { STEP_SUBJECTS } from '../../core/conditions/subject'
import { parseXml, xmlValues } from '../../core/conditions/x-path'
import type { EvidenceTable, PhaseTimes } from '../../core/observation'
import { conditionSentence } from '../../core/sentence/condition-sentence'
import { plainText } from '../../core/sentence/sentence'
import { evaluate } from '../../core/sequence/evaluate'
import { fillIn } from '../../core/sequence/template'
import { runnerOf, type Brought, type Trying } from '../attempt/attempt'
import { failureOf, TryFailure } from '../attempt/failure'
import { askHttp } from '../http/ask'
import { headerOf, isForOneHost, redirected } from '../http/redirect'
import { sequenceDefinition } from './definition'
import type { Step, Taking } from './target'

/** How long clean-up may take after the time of the try is over, in milliseconds. */
const CLEAN_UP = 5000
const REDIRECTS_MOST = 10
/** A value this long that is passed on is taken for a token, and cut out of what is kept. */
const TOKEN_LENGTH = 16

interface Run {
  values: Map<string, string>
  cookies: CookieJar
  table: EvidenceTable
  unverified: boolean
  slowest: number
  done: number
}

type Answered = Awaited<ReturnType<typeof askHttp>>

export const sequenceRunner = runnerOf(sequenceDefinition, async ({ before, steps, after, unverified }, trying) => {
  const table: EvidenceTable = { title: 'Requests', columns: [{ name: 'request' }, { name: 'status', as: 'number' }, { name: 'took', as: 'time' }, { name: 'taken', as: 'code' }, { name: 'outcome' }], rows: [] }
  trying.evidence.tables = [table]
  const run: Run = { values: new Map(), cookies: new CookieJar(), table, unverified, slowest: 0, done: 0 }
  let last: Answered | undefined
  let text = ''
  try {
    for (const step of [...before, ...steps]) {
      last = await runStep(step, run, trying)
      text = last.body.toString('utf8')
    }
  } finally {
    Object.assign(trying.readings, { slowest: run.slowest, done: run.done })
    trying.end()
    if (after.length > 0) await cleanUp(after, run, trying)
  }
  const brought: Brought = { body: trying.answer(text), status: last!.status, headers: last!.headers, bytes: last!.body.length }
  trying.noted.protocol = last!.protocol
  return brought
})

/** Sends one request with everything filled in, judges it and takes values from its answer. Throws TryFailure that names the request. */
async function runStep(step: Step, run: Run, trying: Trying): Promise<Answered> {
  const begun = performance.now()
  const phases = { ...trying.clock.times }
  const number = run.table.rows.length + 1
  const row: (string | number | null)[] = [`${number}. ${step.name}`, null, null, null, 'not done']
  run.table.rows.push(row)
  try {
    const answered = await send(step, run, trying)
    const took = performance.now() - begun
    row[1] = answered.status
    row[2] = took
    run.slowest = Math.max(run.slowest, took)
    trying.clock.stop()
    judge(step, answered, phasesSince(phases, trying.clock.times), took)
    row[3] = (await take(step.take, answered, run, trying)).join(', ') || null
    row[4] = 'passed'
    run.done += 1
    trying.steps.push({ name: stepName(step), took, status: answered.status })
    return answered
  } catch (error) {
    row[2] ??= performance.now() - begun
    const failure = failureOf(error, trying.clock.phase, trying.signal.aborted, Math.round(performance.now() - trying.clock.started))
    row[4] = failure.message
    trying.steps.push({ name: stepName(step), took: row[2] as number, ...(row[1] === null ? {} : { status: row[1] as number }), failed: true })
    throw new TryFailure(failure.reason, `request ${number} (${step.name}): ${failure.message}`)
  }
}

const stepName = ({ name }: Step) => name.slice(0, 200)

async function send(step: Step, run: Run, trying: Trying): Promise<Answered> {
  const fill = (text: string) => fillIn(text, (expression) => {
    try {
      return evaluate(expression, run.values, { now: () => Date.now(), random: () => Math.random(), uuid: randomUUID })
    } catch (error) {
      throw new TryFailure('bad-definition', (error as Error).message)
    }
  })
  const filled = fill(step.url)
  if (!URL.canParse(filled) || !/^https?:$/.test(new URL(filled).protocol)) throw new TryFailure('bad-definition', `“${filled.slice(0, 100)}” is no web address`)
  let url = new URL(filled)
  let { method } = step
  let body = step.body === undefined ? undefined : fill(step.body)
  const headers = Object.fromEntries(Object.entries(step.headers).map(([name, value]) => [name.toLowerCase(), fill(value).replace(/[\r\n]/g, '')]))
  if (body !== undefined && headers['content-type'] === undefined) headers['content-type'] = /^\s*[[{]/.test(body) ? 'application/json' : 'application/x-www-form-urlencoded'
  for (let redirects = 0; ; redirects += 1) {
    const cookie = await run.cookies.getCookieString(url.href)
    const answered = await askHttp(trying, { url, method, headers: { ...headers, ...(cookie === '' ? {} : { cookie: headers.cookie === undefined ? cookie : `${headers.cookie}; ${cookie}` }) }, unverified: run.unverified, ...(body === undefined ? {} : { body }) })
    for (const [name, value] of answered.headers) if (name.toLowerCase() === 'set-cookie') await run.cookies.setCookie(value, url.href, { ignoreError: true })
    const next = step.follow ? redirected(answered, { url, method, ...(body === undefined ? {} : { body }) }) : undefined
    if (!next) return answered
    if (redirects >= REDIRECTS_MOST) throw new TryFailure('too-many-redirects', `more than ${REDIRECTS_MOST} redirects`)
    if (next.url.host !== url.host) for (const name of Object.keys(headers)) if (isForOneHost(name)) delete headers[name]
    if (next.body === undefined) delete headers['content-type']
    ;({ url, method, body } = next)
  }
}

/** Without conditions of its own, a request has to be answered with a status below 400. */
function judge(step: Step, answered: Answered, times: PhaseTimes, took: number): void {
  if (step.pass.length === 0) {
    if (answered.status >= 400) throw new TryFailure('status', `the status is ${answered.status}`)
    return
  }
  const conditions = step.pass.map((written) => readCondition(written, STEP_SUBJECTS))
  const findings = judgeConditions(conditions, { status: answered.status, headers: answered.headers, body: answered.body.toString('utf8'), bytes: answered.body.length, times: { ...times, total: took } })
  const failed = findings.find((finding) => finding.outcome === 'failed')
  if (failed) throw new TryFailure(conditions[failed.index]!.test.on === 'status' ? 'status' : 'condition', `${failed.found}; it passes when ${plainText(conditionSentence(conditions[failed.index]!, failed.index))}`)
}

function phasesSince(before: PhaseTimes, now: PhaseTimes): PhaseTimes {
  return Object.fromEntries(Object.entries(now).flatMap(([phase, time]) => {
    const own = time - (before[phase as keyof PhaseTimes] ?? 0)
    return own > 0 ? [[phase, own]] : []
  }))
}

/** Takes values for later requests; gives the names of those that were found. Throws TryFailure when one is missing. */
async function take(takings: Taking[], answered: Answered, run: Run, trying: Trying): Promise<string[]> {
  for (const taking of takings) {
    const value = taking.from === 'cookie' ? await cookieAt(taking.at, answered, run) : valueAt(taking.from, taking.at, answered)
    if (value === undefined) throw new TryFailure('bad-answer', `${taking.as} is not in the answer: ${taking.from} ${taking.at}`)
    run.values.set(taking.as, value)
    if (taking.from === 'cookie' || value.length >= TOKEN_LENGTH) trying.secrets.push(value)
  }
  return takings.map((taking) => taking.as)
}

/** A cookie as it is kept by now; redirects on the way may have set it. */
async function cookieAt(name: string, { url }: Answered, { cookies }: Run): Promise<string | undefined> {
  return (await cookies.getCookies(url.href)).find((cookie) => cookie.key === name)?.value
}

function valueAt(from: Exclude<Taking['from'], 'cookie'>, at: string, { body, headers }: Answered): string | undefined {
  const text = () => body.toString('utf8')
  const plain = (value: unknown) => (value === undefined || value === null ? undefined : typeof value === 'object' ? JSON.stringify(value) : String(value as string | number))
  try {
    switch (from) {
      case 'json': return plain(jsonValues(at, JSON.parse(text()))[0])
      case 'xml': return plain(xmlValues(at, parseXml(text()))[0])
      case 'pattern': {
        const match = new RegExp(at, 'u').exec(text().slice(0, 500_000))
        return match?.[1] ?? match?.[0]
      }
      case 'header': return headerOf(headers, at.toLowerCase())
    }
  } catch {
    return undefined
  }
}

/** Runs the requests at the end one by one, whatever went before; a failure is a row of the evidence and nothing more. */
async function cleanUp(steps: Step[], run: Run, trying: Trying): Promise<void> {
  const own = trying.aside(AbortSignal.timeout(CLEAN_UP))
  for (const step of steps) {
    await runStep({ ...step, name: `${step.name}, clean-up` }, run, own).catch(() => undefined)
  }
  own.close()
}
