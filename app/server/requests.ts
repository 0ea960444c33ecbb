import { gunzip } from 'node:zlib'
import { promisify } from 'node:util'
import { ERRORS, HemeronError, problemSentence } from '@/core/problems'
import { database, isDatabaseGone } from '@/store/database'
import { personOfToken, requireRole, SCOPES, type Person, type Role, type Scope } from '@/store/people'
import { probeByToken, type Probe } from '@/store/probes'

/** The role a person needs, today, for what a token of theirs may do. */
const ROLE_FOR: Record<Scope, Role> = { read: 'viewer', respond: 'responder', write: 'editor' }
const BODY_MOST = 20_000_000

/** An error as a problem document (RFC 9457). What is not one of ours is said without its inside. */
export function problemResponse(error: unknown): Response {
  if (error instanceof HemeronError) {
    return problem(error.status, {
      type: `urn:hemeron:problem:${error.code}`, title: ERRORS[error.code].title, status: error.status, detail: error.message,
      ...(error.problems.length > 0 ? { errors: error.problems.map((each) => ({ ...each, detail: problemSentence(each) })) } : {})
    })
  }
  if (isDatabaseGone(error)) return problem(503, { type: 'urn:hemeron:problem:database-away', title: 'The database is away', status: 503, detail: 'The database cannot be reached at the moment. Try again in a few seconds.' })
  process.stderr.write(`${new Date().toISOString()} web ${error instanceof Error ? error.stack : String(error)}\n`)
  return problem(500, { type: 'urn:hemeron:problem:fault', title: 'Hemeron has a fault', status: 500, detail: 'The log of the web process says what happened.' })
}

function problem(status: number, body: Record<string, unknown>): Response {
  return new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/problem+json', ...(status === 401 ? { 'www-authenticate': 'Bearer' } : {}) } })
}

/** Wraps a route handler so that whatever it throws becomes a problem document. */
export function answering<Context>(handler: (request: Request, context: Context) => Promise<Response>): (request: Request, context: Context) => Promise<Response> {
  return async (request, context) => {
    try {
      return await handler(request, context)
    } catch (error) {
      return problemResponse(error)
    }
  }
}

const bearer = (request: Request) => /^Bearer\s+(\S{1,200})$/i.exec(request.headers.get('authorization') ?? '')?.[1]

/** The person behind the request's API token, when its scope reaches far enough. Throws not-signed-in or not-allowed. */
export async function requireToken(request: Request, scope: Scope): Promise<Person> {
  const token = bearer(request)
  const found = token ? await personOfToken(database(), token, Date.now()) : undefined
  if (!found) throw new HemeronError('not-signed-in', 'Send a token made in the settings as “Authorization: Bearer …”.')
  if (SCOPES.indexOf(found.scope) < SCOPES.indexOf(scope)) throw new HemeronError('not-allowed', `This needs a token with the scope ${scope}; this one has ${found.scope}.`)
  requireRole(found.person, ROLE_FOR[scope])
  return found.person
}

/** The probe behind the request's token. */
export async function requireProbe(request: Request): Promise<Probe> {
  const token = bearer(request)
  if (!token) throw new HemeronError('not-signed-in', 'A probe sends its token as “Authorization: Bearer …”.')
  return probeByToken(database(), token)
}

/** Reads a body as text, gzip or plain, within a limit. Throws bad-request or too-large. */
export async function readText(request: Request): Promise<string> {
  const raw = Buffer.from(await request.arrayBuffer())
  if (raw.length > BODY_MOST) throw new HemeronError('too-large', `The body has more than ${BODY_MOST / 1e6} MB.`)
  try {
    return (request.headers.get('content-encoding') === 'gzip' ? await promisify(gunzip)(raw, { maxOutputLength: 5 * BODY_MOST }) : raw).toString()
  } catch {
    throw new HemeronError('bad-request', 'The body is not gzip.')
  }
}

/** Reads a JSON body, gzip or plain, within a limit. Throws bad-request or too-large. */
export async function readJson(request: Request): Promise<unknown> {
  const text = await readText(request)
  try {
    return JSON.parse(text)
  } catch {
    throw new HemeronError('bad-request', 'The body is not JSON.')
  }
}

/** The version of `If-Match` (RFC 9110, section 13.1.1), which keeps two editors apart. Throws bad-request. */
export function ifMatch(request: Request): number | undefined {
  const match = request.headers.get('if-match')
  const version = match === null || match === '*' ? undefined : Number(match.replace(/"/g, ''))
  if (version !== undefined && !Number.isInteger(version)) throw new HemeronError('bad-request', 'If-Match needs the ETag it was read with.')
  return version
}

/** Reads a JSON object that may be left out: an empty body is an empty object. Throws bad-request or too-large. */
export async function readBody(request: Request): Promise<Record<string, unknown>> {
  if (Number(request.headers.get('content-length') ?? 0) === 0) return {}
  const body = await readJson(request)
  if (body === null || typeof body !== 'object' || Array.isArray(body)) throw new HemeronError('bad-request', 'Expected an object.')
  return body as Record<string, unknown>
}

/** A whole number from the query, within limits. Throws bad-document naming the parameter. */
export function numberParameter(url: URL, name: string, otherwise: number, least: number, most: number): number {
  const given = url.searchParams.get(name)
  if (given === null) return otherwise
  const value = Number(given)
  if (!Number.isInteger(value) || value < least || value > most) {
    throw new HemeronError('bad-document', undefined, [{ path: name, found: `"${given.slice(0, 50)}"`, expected: `a whole number from ${least} to ${most}` }])
  }
  return value
}

/** A moment as requests write it, in ISO 8601 or in milliseconds since 1970; NaN for anything else. */
export const readTime = (text: string): number => (/^\d{10,16}$/.test(text) ? Number(text) : Date.parse(text))

/** A point in time from the query: ISO 8601, or milliseconds since 1970. */
export function timeParameter(url: URL, name: string, otherwise: number): number {
  const given = url.searchParams.get(name)
  if (given === null) return otherwise
  const value = readTime(given)
  if (Number.isNaN(value)) throw new HemeronError('bad-document', undefined, [{ path: name, found: `"${given.slice(0, 50)}"`, expected: 'a time such as 2026-11-23T14:00:00Z' }])
  return value
}
