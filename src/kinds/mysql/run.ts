import { createConnection } from 'mysql2'
import type { Duplex } from 'node:stream'
import { runnerOf } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { broughtByRows } from '../attempt/rows'
import { mysqlDefinition } from './definition'

/** The most that is read in one try, in bytes, and the most rows. */
export const BYTES_MOST = 5_000_000
const ROWS_MOST = 1000

/** Ends a connection that brings more than a check may read. */
export function bounded(socket: Duplex, onExcess: (error: TryFailure) => void): Duplex {
  let bytes = 0
  socket.on('data', (chunk: Buffer) => {
    bytes += chunk.length
    if (bytes <= BYTES_MOST) return
    const error = new TryFailure('answer-too-large', 'the answer is larger than 5 MB')
    onExcess(error)
    socket.destroy(error)
  })
  return socket
}

export const mysqlRunner = runnerOf(mysqlDefinition, async (target, trying, { wait }) => {
  const { host, port, tls, unverified, user, password, database, query } = target
  let excess: TryFailure | undefined
  const socket = bounded(await trying.open({ host, port }), (error) => { excess = error })
  trying.begin('login')
  const connection = createConnection({
    stream: socket, user, ...(password === undefined ? {} : { password }), ...(database === undefined ? {} : { database }), ...(tls ? { ssl: { rejectUnauthorized: !unverified } } : {}),
    connectTimeout: wait + 1000, supportBigNumbers: true, bigNumberStrings: true, dateStrings: true, multipleStatements: false
  })
  const given = trying.whenOver()
  try {
    await Promise.race([given, new Promise<void>((resolve, reject) => {
      connection.once('error', reject)
      connection.connect((error) => (error ? reject(error) : resolve()))
    })])
    connection.on('error', () => undefined)
    trying.noted.protocol = 'MySQL'
    trying.begin('wait')
    await Promise.race([given, ask(connection, `SET SESSION sql_select_limit = ${ROWS_MOST}`)])
    await Promise.race([given, ask(connection, 'START TRANSACTION READ ONLY')])
    trying.talk.sent(query)
    const { rows, columns } = await Promise.race([given, ask(connection, query)])
    return broughtByRows(columns, rows, trying)
  } catch (error) {
    if (trying.signal.aborted && !excess) throw error
    throw excess ?? failureIn(error as NodeJS.ErrnoException, user)
  } finally {
    connection.destroy()
  }
})

function ask(connection: ReturnType<typeof createConnection>, sql: string): Promise<{ rows: unknown[][]; columns: string[] }> {
  return new Promise((resolve, reject) => {
    connection.query({ sql, rowsAsArray: true }, (error, rows, fields) => (error ? reject(error) : resolve({ rows: Array.isArray(rows) ? rows as unknown[][] : [], columns: (fields ?? []).map((field) => (field as { name: string }).name) })))
  })
}

function failureIn(error: NodeJS.ErrnoException & { sqlMessage?: string; errno?: number }, user: string): Error {
  const said = error.sqlMessage ?? error.message
  if (error.code === 'ER_ACCESS_DENIED_ERROR' || error.code === 'ER_ACCESS_DENIED_NO_PASSWORD_ERROR' || error.code === 'ER_DBACCESS_DENIED_ERROR') return new TryFailure('login-refused', `the database does not take the sign-in of ${user}: ${said}`.slice(0, 250))
  if (error.code?.startsWith('ER_CON_COUNT') || error.code === 'ER_HOST_IS_BLOCKED') return new TryFailure('server-refused', `the database refuses the connection: ${said}`.slice(0, 250))
  if (error.code?.startsWith('ER_')) return new TryFailure('server-failed', `the database answers an error: ${said}`.slice(0, 250))
  if (error.code === 'HANDSHAKE_NO_SSL_SUPPORT') return new TryFailure('no-tls', 'the database does not offer TLS')
  if (error.code === 'HANDSHAKE_SSL_ERROR') return new TryFailure('tls-failed', `no TLS session: ${said}`.slice(0, 250))
  if (error.code === 'ECONNRESET' || error.code === 'EPIPE' || error.code === 'PROTOCOL_CONNECTION_LOST') return error
  return new TryFailure('wrong-protocol', `the server does not speak the protocol of MySQL: ${said}`.slice(0, 250))
}
