import { runnerOf, type Trying } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { Reader } from '../attempt/reader'
import { redisDefinition } from './definition'

const MOST = 1_000_000
const ITEMS_MOST = 10_000
type Value = string | number | null | Value[]

/** A command as the server reads it: an array of texts with their lengths (RESP 2). */
export function command(words: string[]): string {
  return `*${words.length}\r\n${words.map((word) => `$${Buffer.byteLength(word)}\r\n${word}\r\n`).join('')}`
}

/** Reads one reply. Throws TryFailure for an error the server says, and for what is no reply. */
async function read(reader: Reader, depth = 0): Promise<Value> {
  const line = await reader.line(65_536)
  const rest = line.slice(1)
  switch (line[0]) {
    case '+': return rest
    case '-': throw new TryFailure(/^(NOAUTH|WRONGPASS|NOPERM)/.test(rest) ? 'login-refused' : /^(LOADING|MASTERDOWN|BUSY|CLUSTERDOWN)/.test(rest) ? 'not-running' : 'server-refused', `Redis answers ${rest}`.slice(0, 250))
    case ':': return Number(rest)
    case '$': {
      if (rest === '-1') return null
      if (!/^\d{1,10}$/.test(rest)) break
      const text = (await reader.exactly(Number(rest))).toString('utf8')
      await reader.exactly(2)
      return text
    }
    case '*': {
      const count = Number(rest)
      if (count === -1) return null
      if (!Number.isInteger(count) || count > ITEMS_MOST || depth > 4) throw new TryFailure('answer-too-large', `Redis answers a list of ${rest} items`)
      const items: Value[] = []
      for (let index = 0; index < count; index += 1) items.push(await read(reader, depth + 1))
      return items
    }
  }
  throw new TryFailure('wrong-protocol', `the server does not speak the protocol of Redis: it says “${line.slice(0, 60)}”`)
}

export const redisRunner = runnerOf(redisDefinition, async (target, trying) => {
  const { host, port, tls, unverified, user, password, database } = target
  const socket = await trying.open({ host, port, ...(tls ? { tls: { verify: !unverified } } : {}) })
  const reader = new Reader(socket, trying.signal, MOST)
  const ask = (words: string[], shown = words.join(' ')) => {
    trying.talk.sent(shown)
    socket.write(command(words))
    return read(reader)
  }
  trying.noted.protocol = 'RESP'
  if (password !== undefined) {
    trying.begin('login')
    await ask(['AUTH', ...(user === undefined ? [] : [user]), password], 'AUTH (hidden)')
  }
  trying.begin('wait')
  if (database !== 0) await ask(['SELECT', String(database)])
  const value = await ask(target.command.trim().split(/\s+/))
  return answered(value, trying)
})

function answered(value: Value, trying: Trying) {
  const values = (Array.isArray(value) ? value : [value]).map((each) => (each === null ? 'nothing' : typeof each === 'object' ? JSON.stringify(each) : String(each)))
  const text = values.join('\n')
  trying.talk.received(text)
  const number = values.length === 1 && values[0]!.trim() !== '' ? Number(values[0]) : Number.NaN
  return { body: trying.answer(text), facts: { value: value === null ? [] : values }, ...(Number.isNaN(number) ? {} : { readings: { number } }) }
}
