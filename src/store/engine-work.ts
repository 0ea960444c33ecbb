import { gunzipSync } from 'node:zlib'
import type { Observation } from '../core/observation'
import type { Instant } from '../core/units'
import { change, row, rows, type Queryable } from './database'
import { SHARES } from './probes'

/** Shares beyond those of the checks: jobs that one engine at a time does for all. */
export const JOBS = { upkeep: 100, deliveries: 101 } as const

/** Takes or keeps the lease of every share that is free or this engine's own. Gives the shares it holds. */
export async function leaseShares(on: Queryable, engine: string, now: Instant, length: number): Promise<number[]> {
  await change(on, 'UPDATE share_lease SET engine = ?, until_at = ? WHERE engine = ? OR until_at < ?', [engine, now + length, engine, now])
  return (await rows<{ share: number }>(on, 'SELECT share FROM share_lease WHERE engine = ?', [engine])).map((each) => each.share)
}

/** Gives up what an engine holds, so that another can go on at once. */
export async function releaseShares(on: Queryable, engine: string): Promise<void> {
  await change(on, "UPDATE share_lease SET engine = '', until_at = 0 WHERE engine = ?", [engine])
}

/** Makes sure, inside a transaction, that the share is still this engine's; nobody else can take it until the end. */
export async function fenceShare(on: Queryable, share: number, engine: string): Promise<boolean> {
  return (await row<{ engine: string }>(on, 'SELECT engine FROM share_lease WHERE share = ? FOR UPDATE', [share]))?.engine === engine
}

/** The oldest batches of a share, read but not yet taken away. */
export async function readArrivals(on: Queryable, share: number, limit: number): Promise<{ ids: number[]; observations: Observation[] }> {
  const found = await rows<{ id: number; payload: Buffer }>(on, 'SELECT id, payload FROM arrival WHERE share = ? ORDER BY id LIMIT ?', [share, limit])
  return { ids: found.map((each) => each.id), observations: found.flatMap((each) => JSON.parse(gunzipSync(each.payload).toString()) as Observation[]) }
}

/** Which of the shares have batches waiting. */
export async function sharesWithArrivals(on: Queryable): Promise<number[]> {
  return (await rows<{ share: number }>(on, 'SELECT DISTINCT share FROM arrival WHERE share < ?', [SHARES])).map((each) => each.share)
}

export async function removeArrivals(on: Queryable, ids: number[]): Promise<void> {
  if (ids.length > 0) await change(on, 'DELETE FROM arrival WHERE id IN (?)', [ids])
}

/** Takes away the run requests that observations have answered, and asks for more tries. */
export async function settleRuns(on: Queryable, answered: { check: number; location: number; at: Instant }[], wanted: { check: number; location: number; at: Instant }[]): Promise<void> {
  if (answered.length > 0) {
    const open = await rows<{ id: number; check: number; location: number; at: number }>(on,
      'SELECT id, check_id AS `check`, location_id AS location, at FROM run_request WHERE check_id IN (?) AND taken_at IS NOT NULL', [[...new Set(answered.map((each) => each.check))]])
    const done = open.filter((order) => answered.some((each) => each.check === order.check && each.location === order.location && each.at >= order.at - 1500))
    if (done.length > 0) await change(on, 'DELETE FROM run_request WHERE id IN (?)', [done.map((each) => each.id)])
  }
  if (wanted.length > 0) {
    await change(on, 'INSERT IGNORE INTO run_request (check_id, location_id, at, occasion) VALUES ?', [wanted.map((each) => [each.check, each.location, each.at, 1])])
  }
}

/** How many batches wait, and how long the oldest has waited, in milliseconds. */
export async function waitingArrivals(on: Queryable, now: Instant): Promise<{ count: number; oldest: number }> {
  const found = await row<{ count: number; oldest: number | null }>(on, 'SELECT COUNT(*) AS count, MIN(at) AS oldest FROM arrival')
  return { count: found!.count, oldest: found!.oldest === null ? 0 : now - found!.oldest }
}
