import { createHash } from 'node:crypto'
import mysql from 'mysql2'
import type { AddressInfo, Server } from 'node:net'

/** A database that takes one user and knows the answers to a few queries. */
export function startDatabase(user: string, password: string, answers: Record<string, () => number | string>): Promise<number> {
  const server = (mysql as unknown as { createServer: () => { on: (event: string, act: (connection: never) => void) => void; listen: (port: number, host: string, done: () => void) => void; _server: Server } }).createServer()
  let id = 1
  server.on('connection', ((connection: {
    _resetSequenceId: () => void; _bumpSequenceId: (count: number) => void; serverHandshake: (options: object) => void; on: (event: string, act: (...parameters: never[]) => void) => void; writeOk: () => void; writeError: (error: object) => void; writeColumns: (columns: object[]) => void; writeTextRow: (row: unknown[]) => void; writeEof: () => void
  }) => {
    connection.serverHandshake({
      protocolVersion: 10, serverVersion: '11.4-orrin', connectionId: id++, statusFlags: 2, characterSet: 8, capabilityFlags: 0xffffff,
      authCallback: (given: { user: string; authToken: Buffer; authPluginData1: Buffer; authPluginData2: Buffer }, done: (error: null, refusal?: object) => void) => {
        const isRight = given.user === user && verifies(password, given)
        done(null, isRight ? undefined : { message: `Access denied for user '${given.user}'`, code: 1045 })
      }
    })
    connection.on('error', () => undefined)
    // the packets of every answer are counted from one
    const begin = () => {
      connection._resetSequenceId()
      connection._bumpSequenceId(1)
    }
    // the package hands SET over as if a statement were prepared
    connection.on('stmt_prepare', () => {
      begin()
      connection.writeOk()
    })
    connection.on('query', ((sql: string) => {
      begin()
      const answer = answers[sql]
      if (answer === undefined) return /^(SET|START)/.test(sql) ? connection.writeOk() : connection.writeError({ code: 1146, message: 'there is no such table here' })
      connection.writeColumns([{ catalog: 'def', schema: 'orrin', table: 't', orgTable: 't', name: 'value', orgName: 'value', characterSet: 63, columnLength: 20, columnType: 8, flags: 0, decimals: 0 }])
      connection.writeTextRow([answer()])
      return connection.writeEof()
    }) as never)
  }) as never)
  return new Promise((resolve) => server.listen(0, '127.0.0.1', () => resolve((server._server.address() as AddressInfo).port)))
}

/** Whether a token proves the password (mysql_native_password): SHA1(password) xor SHA1(seed + SHA1(SHA1(password))). */
function verifies(password: string, { authToken, authPluginData1, authPluginData2 }: { authToken: Buffer; authPluginData1: Buffer; authPluginData2: Buffer }): boolean {
  return authToken.equals(token(password, authPluginData1, authPluginData2))
}

function token(password: string, first: Buffer, second: Buffer): Buffer {
  const sha1 = (...parts: Uint8Array[]) => { const hash = createHash('sha1'); for (const part of parts) hash.update(part); return hash.digest() }
  const once = sha1(Buffer.from(password))
  const seeded = sha1(first.subarray(0, 8), second.subarray(0, 12), sha1(once))
  return Buffer.from(seeded.map((byte, index) => byte ^ once[index]!))
}
