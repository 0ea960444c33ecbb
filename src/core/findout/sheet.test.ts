import { seededRandom } from '../seeded-random'
import { MINUTE } from '../units'
import { GatheredSheets, KEY_COLUMNS, numbered, packSheet, placesInSheet, SHEET, SHEET_COLUMNS, sheetOf, thinnedPlaces, type LoadedTries, type SheetBytes } from './sheet'

const at = sheetOf(Date.parse('2026-11-25T10:00:00Z'))
const random = seededRandom(5)
const count = 600
const whole = (most: number) => Int32Array.from({ length: count }, () => Math.floor(random() * most))
const measured = (missing: number) => Float32Array.from({ length: count }, () => (random() < missing ? Number.NaN : random() * 500))
const loaded: LoadedTries = {
  tries: {
    count, at: Float64Array.from({ length: count }, (_, index) => at + index * (SHEET / count)), check: whole(9), location: whole(70_00), verdict: Uint8Array.from({ length: count }, () => (random() < 0.1 ? 3 : 0)),
    times: { total: measured(0), connect: measured(0.2), loss: measured(0.8), rtt: measured(0.8) }, columns: []
  },
  status: whole(600), reason: whole(3), address: whole(100_000), server: whole(4), protocol: whole(3), resolver: whole(5), tlsVersion: new Int32Array(count), texts: new Map(), thinned: 1
}
const bytes = packSheet(loaded, at)
const all = { checks: numbered([0, 1, 2, 3, 4, 5, 6, 7, 8]), locations: numbered(Array.from({ length: 7000 }, (_, index) => index)), from: at, to: at + SHEET }
const gather = (places: Int32Array, own: SheetBytes = bytes) => {
  const gathered = new GatheredSheets(places.length, ['total', 'connect', 'greet'], 1)
  gathered.add(at, count, own, places)
  return gathered.loaded
}

describe('a sheet', () => {
  it('gives back the tries it was made of', () => {
    const { tries, status, address, server } = gather(placesInSheet(bytes, at, count, all))
    expect(tries.at).toEqual(loaded.tries.at)
    expect([tries.check, tries.location, tries.verdict]).toEqual([loaded.tries.check, loaded.tries.location, loaded.tries.verdict])
    expect([status, address, server]).toEqual([loaded.status, loaded.address, loaded.server])
    expect(tries.times.connect).toEqual(loaded.tries.times.connect)
    expect(tries.times.greet!.every((each) => Number.isNaN(each))).toBe(true)
  })
  it('keeps nothing of columns that hold nothing', () => {
    expect([bytes.tlsVersion, bytes.greet]).toEqual([null, null])
    expect(Object.keys(bytes)).toEqual([...SHEET_COLUMNS])
  })
  it('gives the wanted tries alone', () => {
    const places = placesInSheet(bytes, at, count, { checks: numbered([3]), locations: all.locations, from: at + 2 * MINUTE, to: at + 5 * MINUTE })
    const expected = Array.from({ length: count }, (_, index) => index).filter((index) => loaded.tries.check[index] === 3 && loaded.tries.at[index]! >= at + 2 * MINUTE && loaded.tries.at[index]! < at + 5 * MINUTE)
    expect(expected.length).toBeGreaterThan(10)
    expect(Array.from(places)).toEqual(expected)
    expect(Array.from(gather(places).tries.times.total!)).toEqual(expected.map((index) => loaded.tries.times.total![index]))
  })
  it('is thinned of passing tries alone, whatever the cadence', () => {
    const everything = placesInSheet(bytes, at, count, all)
    const kept = thinnedPlaces(bytes, at, count, everything, 4)
    const failing = (places: Int32Array) => Array.from(places).filter((place) => loaded.tries.verdict[place] === 3).length
    expect(failing(kept)).toBe(failing(everything))
    expect((kept.length - failing(kept)) / (count - failing(everything))).toBeCloseTo(0.25, 1)
    expect(thinnedPlaces(bytes, at, count, everything, 1)).toBe(everything)
  })
  it('refuses bytes of another length', () => {
    expect(() => gather(Int32Array.of(0), { ...bytes, total: bytes.total!.subarray(0, 40) })).toThrow(RangeError)
    expect(KEY_COLUMNS.every((column) => bytes[column] !== null)).toBe(true)
  })
  it('stands after tries that are in none yet', () => {
    const gathered = new GatheredSheets(count + 2, ['total'], 1)
    gathered.add(at, count, bytes, placesInSheet(bytes, at, count, all))
    const two = gather(Int32Array.of(5, 6))
    gathered.addLoaded({ ...two, thinned: 1 })
    expect(Array.from(gathered.loaded.tries.at.subarray(count))).toEqual([loaded.tries.at[5], loaded.tries.at[6]])
    expect(gathered.loaded.tries.times.total![count]).toBe(loaded.tries.times.total![5])
  })
})
