import { createHash, randomInt, randomUUID, timingSafeEqual } from 'node:crypto'
import { codeMessage } from '../core/messages/message'
import { HemeronError } from '../core/problems'
import { MINUTE, type Instant } from '../core/units'
import { change, row, transaction, type Pool } from './database'
import { queueDeliveries } from './deliveries'
import { bumpDefinitions } from './locations'
import { audit } from './people'
import { readSettings } from './settings'

const LASTS = 15 * MINUTE
const MOST_TRIES = 5

const hashOf = (channel: number, code: string) => createHash('sha256').update(`${channel}/${code}`).digest()

/** Sends a new code to a channel. The one before does not count any more. */
export async function sendCode(pool: Pool, channel: number, now: Instant): Promise<void> {
  const { name, address } = await readSettings(pool)
  await transaction(pool, async (on) => {
    const found = await row<{ person: number | null; until: Instant | null }>(on, 'SELECT person_id AS person, code_until AS until FROM channel WHERE id = ? AND removed_at IS NULL FOR UPDATE', [channel])
    if (!found) throw new HemeronError('not-found', 'There is no such channel.')
    if (found.until !== null && found.until - LASTS > now - MINUTE) throw new HemeronError('too-many-attempts', 'A code was sent less than a minute ago.')
    const code = String(randomInt(1_000_000)).padStart(6, '0')
    await change(on, 'UPDATE channel SET code_hash = ?, code_until = ?, code_tries = 0 WHERE id = ?', [hashOf(channel, code), now + LASTS, channel])
    await queueDeliveries(on, [{ key: `code/${channel}/${randomUUID()}`, channel, ...(found.person === null ? {} : { person: found.person }), cause: 'To be confirmed' }], 'code', codeMessage(code, name, address === '' ? undefined : `${address}/confirm/${channel}.${code}`), null, now)
  })
}

/** Takes the code that came over a channel. Throws bad-document when it is wrong, too late, or was guessed too often. */
export async function confirmChannel(pool: Pool, channel: number, code: string, by: number | null, now: Instant): Promise<void> {
  const isRight = await transaction(pool, async (on) => {
    const found = await row<{ hash: Buffer | null; until: Instant | null; tries: number }>(on, 'SELECT code_hash AS hash, code_until AS until, code_tries AS tries FROM channel WHERE id = ? AND removed_at IS NULL FOR UPDATE', [channel])
    if (!found?.hash || found.until === null || found.until < now) throw new HemeronError('bad-document', undefined, [{ path: 'code', found: 'a code that does not count any more', expected: 'the newest code; send another one' }])
    if (found.tries >= MOST_TRIES) throw new HemeronError('too-many-attempts', 'Too many wrong codes. Send another one.')
    const right = timingSafeEqual(found.hash, hashOf(channel, code.replace(/\s/g, '')))
    if (!right) await change(on, 'UPDATE channel SET code_tries = code_tries + 1 WHERE id = ?', [channel])
    else {
      await change(on, 'UPDATE channel SET confirmed_at = ?, code_hash = NULL, code_until = NULL WHERE id = ?', [now, channel])
      await audit(on, by, 'channel confirmed', String(channel), undefined, undefined, now)
      await bumpDefinitions(on)
    }
    return right
  })
  if (!isRight) throw new HemeronError('bad-document', undefined, [{ path: 'code', found: `"${code.slice(0, 20)}"`, expected: 'the six digits that came' }])
}
