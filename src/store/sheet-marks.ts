import { sheetOf } from '../core/findout/sheet'
import { DAY, type Instant } from '../core/units'
import { insertMany, type Queryable } from './database'

/** Says that what questions read of some moments is to be made, or made again: their sheets of ten minutes, and those of their days. */
export async function markSheets(on: Queryable, moments: readonly Instant[]): Promise<void> {
  await insertMany(on, 'INSERT IGNORE INTO sheet_due (at)', [...new Set(moments.map(sheetOf))].map((at) => [at]))
  await markDaySheets(on, moments)
}

export async function markDaySheets(on: Queryable, moments: readonly Instant[]): Promise<void> {
  await insertMany(on, 'INSERT IGNORE INTO day_sheet_due (day)', [...new Set(moments.map((at) => Math.floor(at / DAY)))].map((day) => [day]))
}
