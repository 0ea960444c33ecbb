import { createHmac, timingSafeEqual } from 'node:crypto'
import { installationKey } from './seal'
import { change, row, rows, type Queryable } from './database'

const MARK_BYTES = 18

/** The mark of a check's own address: nobody can guess it, and it stands nowhere. */
const mark = (check: number, turn: number): Buffer => createHmac('sha256', installationKey()).update(`inlet/${check}/${turn}`).digest().subarray(0, MARK_BYTES)

/** The last part of the address at which a check is told things: by a job that calls, or a host that pushes numbers. */
export async function inletOf(on: Queryable, check: number): Promise<string> {
  const found = await row<{ turn: number }>(on, 'SELECT turn FROM inlet WHERE check_id = ?', [check])
  return `${check.toString(36)}-${mark(check, found?.turn ?? 0).toString('base64url')}`
}

/** The check that an address belongs to; undefined for one that was never given out, or was replaced. */
export async function checkOfInlet(on: Queryable, inlet: string): Promise<number | undefined> {
  const [, id, given] = /^([0-9a-z]{1,7})-([A-Za-z0-9_-]{24})$/.exec(inlet) ?? []
  if (id === undefined || given === undefined) return undefined
  const check = Number.parseInt(id, 36)
  const found = (await rows<{ turn: number | null }>(on, 'SELECT i.turn FROM check_definition c LEFT JOIN inlet i ON i.check_id = c.id WHERE c.id = ? AND c.deleted_at IS NULL', [check]))[0]
  return found && timingSafeEqual(mark(check, found.turn ?? 0), Buffer.from(given, 'base64url')) ? check : undefined
}

/** Gives a check another address; the one before takes nothing any more. */
export async function renewInlet(on: Queryable, check: number): Promise<string> {
  await change(on, 'INSERT INTO inlet (check_id, turn) VALUES (?, 1) ON DUPLICATE KEY UPDATE turn = turn + 1', [check])
  return inletOf(on, check)
}
