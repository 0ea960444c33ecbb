import { GatheredSheets, KEY_COLUMNS, numbered, packSheet, placesInSheet, SHEET, SHEET_COLUMNS, sheetOf, TEXT_COLUMNS, thinnedPlaces, type LoadedTries, type SheetBytes, type SheetColumn } from '../core/findout/sheet'
import { DAY, HOUR, type Instant } from '../core/units'
import { change, row, rows, transaction, type Pool, type Queryable } from './database'
import { countTries, loadTries, textsOf, type WantedTries } from './tries-in-columns'

/** So long after its end a sheet is made: by then all probes that are not cut off have sent what they saw. */
const SETTLED = 20_000

/** Makes sheets that ended and wait to be made, the newest first. Gives how many there were. */
export async function makeDueSheets(pool: Pool, now: Instant, limit = 4): Promise<number> {
  const due = await rows<{ at: Instant }>(pool, 'SELECT at FROM sheet_due WHERE at < ? ORDER BY at DESC LIMIT ?', [now - SHEET - SETTLED, limit])
  for (const { at } of due) await transaction(pool, (on) => makeSheet(on, at))
  return due.length
}

/**
 * Makes one sheet from its observations; doing it twice changes nothing. What arrives meanwhile marks it again, as the mark is taken away first.
 */
export async function makeSheet(on: Queryable, at: Instant): Promise<void> {
  await change(on, 'DELETE FROM sheet_due WHERE at = ?', [at])
  // rolled up before it is marked: its windows say which checks and locations have tries
  const windows = await rows<{ check: number; location: number }>(on, "SELECT DISTINCT check_id AS `check`, location_id AS location FROM rollup WHERE span = '5m' AND at >= ? AND at < ? AND location_id <> 0", [at, at + SHEET])
  const different = (numbers: number[]) => [...new Set(numbers)]
  const loaded = await loadTries(on, { checks: different(windows.map((each) => each.check)), locations: different(windows.map((each) => each.location)), from: at, to: at + SHEET, metric: 'every' })
  if (loaded.tries.count === 0) return void (await change(on, 'DELETE FROM sheet WHERE at = ?', [at]))
  await storeSheet(on, at, loaded)
}

/** Stores one sheet; one that stands already is replaced. */
export async function storeSheet(on: Queryable, at: Instant, loaded: LoadedTries): Promise<void> {
  const bytes = packSheet(loaded, at)
  await change(on, `REPLACE INTO sheet (at, tries, ${SHEET_COLUMNS.map((column) => `${column}_column`).join(', ')}) VALUES (?)`, [[at, loaded.tries.count, ...SHEET_COLUMNS.map((column) => (bytes[column] ? Buffer.from(bytes[column]) : null))]])
}

/** How many tries the sheets of a range hold, of all checks. */
export async function countInSheets(on: Queryable, { from, to }: { from: Instant; to: Instant }): Promise<number> {
  const found = await row<{ count: number | null }>(on, 'SELECT SUM(tries) AS count FROM sheet WHERE at > ? AND at < ?', [from - SHEET, to])
  return Number(found?.count ?? 0)
}

export interface WantedOfSheets extends Omit<WantedTries, 'metric' | 'thinned'> {
  /** Which columns are read, beside those that say which try it is. */
  columns: readonly SheetColumn[]
  /** Of more tries than these, passing ones are thinned. */
  most: number
  /** Only these sheets are read. */
  sheets?: readonly Instant[]
}

type SheetRow = { at: Instant; tries: number } & Record<`${SheetColumn}_column`, Buffer | null>

/** Runs of sheets that are not made yet; more than this are read as one. */
const MOST_RUNS = 3

/**
 * Reads tries from sheets, and those of sheets that are not made yet from the observations themselves. The tries of one check at
 * one location are in the order of their time. Those made while a location had no line are left out.
 */
export async function loadFromSheets(on: Queryable, wanted: WantedOfSheets): Promise<LoadedTries> {
  const { from, to, columns, most, sheets } = wanted
  const only = sheets && new Set(sheets)
  const which = { checks: numbered(wanted.checks), locations: numbered(wanted.locations), from, to }
  const stale = await staleSheets(on, from, to, only)
  const read = (names: readonly SheetColumn[]) => rows<SheetRow>(on, `SELECT at, tries, ${names.map((each) => `${each}_column`).join(', ')} FROM sheet WHERE ${sheets ? 'at IN (?)' : 'at > ? AND at < ?'} ORDER BY at`, sheets ? [sheets] : [from - SHEET, to])
  const keys = new Map<Instant, { places: Int32Array; bytes: SheetBytes; tries: number }>()
  for (const sheet of await read(KEY_COLUMNS)) {
    if (stale.has(sheet.at)) continue
    const bytes = bytesOf(sheet, KEY_COLUMNS)
    keys.set(sheet.at, { places: placesInSheet(bytes, sheet.at, sheet.tries, which), bytes, tries: sheet.tries })
  }
  let count = [...keys.values()].reduce((sum, each) => sum + each.places.length, 0)
  const runs = runsOf(stale, from, to)
  const isLong = runs.reduce((sum, run) => sum + run.to - run.from, 0) > HOUR
  const uncounted = isLong ? await countTries(on, { ...wanted, from: runs[0]!.from, to: runs.at(-1)!.to }) : 0
  const thinned = Math.max(1, Math.ceil((count + uncounted) / most))
  if (thinned > 1) {
    for (const [at, each] of keys) each.places = thinnedPlaces(each.bytes, at, each.tries, each.places, thinned)
    count = [...keys.values()].reduce((sum, each) => sum + each.places.length, 0)
  }
  const loose = await Promise.all(runs.map((run) => loadTries(on, { checks: wanted.checks, locations: wanted.locations, ...run, metric: 'every', thinned, leaveOut: (at) => !stale.has(sheetOf(at)) })))
  const gathered = new GatheredSheets(count + loose.reduce((sum, each) => sum + each.tries.count, 0), columns, thinned)
  const more = columns.length === 0 ? new Map<Instant, SheetRow>() : new Map((await read(columns)).map((sheet) => [sheet.at, sheet]))
  for (const [at, { places, bytes, tries }] of keys) {
    const own = more.get(at)
    // a sheet made anew between the two looks is not the one that was chosen from
    gathered.add(at, tries, own?.tries === tries ? { ...bytes, ...bytesOf(own, columns) } : bytes, places)
  }
  for (const each of loose) gathered.addLoaded(each)
  const { loaded } = gathered
  return { ...loaded, texts: await textsOf(on, TEXT_COLUMNS.filter((column) => columns.includes(column) || loose.length > 0).map((column) => loaded[column])) }
}

const bytesOf = (sheet: SheetRow, names: readonly SheetColumn[]): SheetBytes => Object.fromEntries(names.map((each) => [each, sheet[`${each}_column`]]))

/**
 * The sheets of a range that are not made, or hold less than there is. What is stored is marked to be rolled up in the same transaction,
 * and what is rolled up to be made a sheet of: whatever is not marked is in its sheet. Before the first sheet nothing is.
 */
async function staleSheets(on: Queryable, from: Instant, to: Instant, only: ReadonlySet<Instant> | undefined): Promise<Set<Instant>> {
  const due = await rows<{ at: Instant }>(on, 'SELECT at FROM sheet_due WHERE at > ? AND at < ? UNION SELECT DISTINCT at FROM rollup_due WHERE at > ? AND at < ?', [from - SHEET, to, from - SHEET, to])
  const first = (await row<{ at: Instant | null }>(on, 'SELECT MIN(at) AS at FROM sheet'))?.at ?? to
  const stale = new Set(due.map((each) => sheetOf(each.at)))
  for (let at = sheetOf(from); at < Math.min(first, to); at += SHEET) stale.add(at)
  return only ? new Set([...stale].filter((at) => only.has(at))) : stale
}

/** Sheets as stretches of time, those that follow each other as one. */
function runsOf(sheets: ReadonlySet<Instant>, from: Instant, to: Instant): { from: Instant; to: Instant }[] {
  const runs: { from: Instant; to: Instant }[] = []
  for (const at of [...sheets].sort((a, b) => a - b)) {
    const [begin, end] = [Math.max(from, at), Math.min(to, at + SHEET)]
    const last = runs.at(-1)
    if (begin >= end) continue
    if (last?.to === begin) last.to = end
    else runs.push({ from: begin, to: end })
  }
  return runs.length <= MOST_RUNS ? runs : [{ from: runs[0]!.from, to: runs.at(-1)!.to }]
}

/** Drops sheets whose observations are past their retention. */
export async function dropOldSheets(on: Queryable, before: Instant): Promise<void> {
  await change(on, 'DELETE FROM sheet WHERE at < ? LIMIT 1000', [before - DAY])
  await change(on, 'DELETE FROM sheet_due WHERE at < ?', [before - DAY])
}
