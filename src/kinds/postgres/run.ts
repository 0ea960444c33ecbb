import type { Duplex } from 'node:stream'
import pg from 'pg'
import { runnerOf } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { broughtByRows } from '../attempt/rows'
import { bounded } from '../mysql/run'
import { postgresDefinition } from './definition'

/** The package wants to connect by itself; this connection is open already, and says so when it is asked to connect. */
function opened(socket: Duplex): Duplex {
  return Object.assign(socket, { connect: () => process.nextTick(() => socket.emit('connect')), setNoDelay: () => socket, setKeepAlive: () => socket, ref: () => socket, unref: () => socket })
}

export const postgresRunner = runnerOf(postgresDefinition, async (target, trying, { wait }) => {
  const { host, port, tls, unverified, user, password, database, query } = target
  let excess: TryFailure | undefined
  const socket = bounded(await trying.open({ host, port }), (error) => { excess = error })
  trying.begin('login')
  const client = new pg.Client({
    host, port, user, password: password ?? '', database: database ?? user, stream: (() => opened(socket)) as never, statement_timeout: wait,
    ...(tls ? { ssl: { rejectUnauthorized: !unverified, secureContext: trying.link.trust } } : {})
  })
  let fault: Error | undefined
  client.on('error', (error) => { fault = error })
  const given = trying.whenOver()
  try {
    await Promise.race([client.connect(), given])
    trying.noted.protocol = 'PostgreSQL'
    trying.begin('wait')
    await Promise.race([client.query('BEGIN READ ONLY'), given])
    trying.talk.sent(query)
    const result = await Promise.race([client.query({ text: query, rowMode: 'array' }), given]) as { fields: { name: string }[]; rows: unknown[][] }
    return broughtByRows(result.fields.map((field) => field.name), result.rows, trying)
  } catch (error) {
    if (trying.signal.aborted && !excess) throw error
    throw excess ?? failureIn((fault ?? error) as Error & { code?: string }, user)
  } finally {
    socket.destroy()
  }
})

/** Classes of SQLSTATE: 28 is about the sign-in, 57 about a server that shuts down or starts, 53 about too little of something. */
function failureIn(error: Error & { code?: string }, user: string): Error {
  const said = error.message
  const code = error.code ?? ''
  if (/^28/.test(code) || /password/i.test(said)) return new TryFailure('login-refused', `the database does not take the sign-in of ${user}: ${said}`.slice(0, 250))
  if (/^57P0[123]/.test(code)) return new TryFailure('not-running', `the database answers: ${said}`.slice(0, 250))
  if (/^53/.test(code)) return new TryFailure('server-refused', `the database refuses the connection: ${said}`.slice(0, 250))
  if (/^[0-9A-Z]{5}$/.test(code)) return new TryFailure('server-failed', `the database answers an error: ${said}`.slice(0, 250))
  if (/does not support SSL/.test(said)) return new TryFailure('no-tls', 'the database does not offer TLS')
  if (/certificate|SSL|TLS/i.test(said)) return new TryFailure('tls-failed', `no TLS session: ${said}`.slice(0, 250))
  if (['ECONNRESET', 'EPIPE'].includes(code) || /terminated unexpectedly/.test(said)) return new TryFailure('connection-closed', 'the server closed the connection during the sign-in')
  return new TryFailure('wrong-protocol', `the server does not speak the protocol of PostgreSQL: ${said}`.slice(0, 250))
}
