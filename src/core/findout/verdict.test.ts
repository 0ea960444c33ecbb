import type { Party } from '../parties/parties'
import { HOUR } from '../units'
import { byClock } from './columns'
import { CAUSES, madeWorld, type Cause, type MadeWorld } from './made-worlds'
import { splitAt, type Column } from './tries'
import { judge, phaseNamed, type Verdict } from './verdict'
import { speakVerdict } from './verdict-words'

const parties: Party[] = [{ key: 'pacifico', name: 'Pacífico Cable', kind: 'access network', contact: 'noc@pacifico-cable.example', hosts: [], ranges: [], networks: ['Pacifico'] }]
const judged = ({ tries, stretch, networks }: MadeWorld): Verdict => {
  const { inside, outside } = splitAt(tries, stretch)
  return judge(inside, outside, 'total', parties, networks)
}

/** Whether the verdict names what was made wrong, and nothing else. */
function isRight({ truth }: MadeWorld, { outcome, named, and }: Verdict): boolean {
  if (truth === undefined) return outcome === 'nothing'
  if (truth === 'everything') return outcome === 'alike'
  const names = (dimension: string, value: string) => (each: { dimension: string; value: string } | undefined) => each?.dimension === dimension && each.value === value
  if (outcome !== 'named') return false
  if (truth.and) return [named[0], and].some(names(truth.dimension, truth.value)) && [named[0], and].some(names(truth.and.dimension, truth.and.value))
  return names(truth.dimension, truth.value)(named[0]) && and === undefined
}

describe('the verdict on made worlds', () => {
  const worlds = Array.from({ length: 16 }, (_, round) => CAUSES.map((cause, place) => madeWorld(1000 * round + place, cause))).flat()
  const found = worlds.map((world) => ({ world, verdict: judged(world) }))

  it('names the true cause, and nothing when nothing is wrong', () => {
    const isClaim = ({ verdict }: (typeof found)[number]) => verdict.outcome === 'named' || verdict.outcome === 'alike'
    const claims = found.filter(isClaim)
    const ill = found.filter(({ world }) => world.truth !== undefined)
    const [precision, recall] = [claims.filter(({ world, verdict }) => isRight(world, verdict)).length / claims.length, ill.filter(({ world, verdict }) => isRight(world, verdict)).length / ill.length]
    const byCause = CAUSES.map((cause) => `${cause} ${found.filter(({ world, verdict }) => world.cause === cause && isRight(world, verdict)).length}/${found.filter(({ world }) => world.cause === cause).length}`)
    process.stdout.write(`${found.length} made worlds: precision ${precision.toFixed(3)}, recall ${recall.toFixed(3)}; ${byCause.join(', ')}\n`)
    expect(precision).toBeGreaterThanOrEqual(0.97)
    expect(recall).toBeGreaterThanOrEqual(0.95)
    expect(found.filter(({ world }) => world.cause === 'none').every(({ verdict }) => verdict.outcome === 'nothing')).toBe(true)
  })
})

describe('a verdict', () => {
  it('blames who stands where it lies, with the contact, and clears the others', () => {
    const world = madeWorld(5, 'network slow')
    const verdict = judged(world)
    expect(verdict.named.map((each) => each.dimension).slice(0, 2)).toEqual(['network', 'location'])
    expect(phaseNamed(verdict)).toBe('connect')
    expect(verdict.companions.map((each) => each.metric)).toContain('loss')
    expect(verdict.parties.map(({ kind, verdict: told }) => [kind, told])).toEqual([['access network', 'to blame'], ['origin', 'cleared'], ['hosting', 'cleared'], ['name service', 'cleared'], ['transit', 'cleared']])
  })
  it('blames the name service when finding names takes the time everywhere', () => {
    const { parties: judgedParties } = judged(madeWorld(11, 'name service slow'))
    expect(judgedParties.filter((each) => each.verdict === 'to blame').map((each) => each.kind)).toEqual(['name service'])
    expect(judgedParties.find((each) => each.kind === 'origin')?.verdict).toBe('cleared')
  })
  it('names a resolver for finding names alone, with the network it cannot be told from', () => {
    const verdict = judged(madeWorld(14, 'resolver slow'))
    expect(verdict.named[0]?.dimension).toBe('resolver')
    expect(phaseNamed(verdict)).toBe('lookup')
    expect(verdict.parties.find((each) => each.kind === 'name service')).toMatchObject({ verdict: 'cannot be told' })
    for (const seed of [5, 6, 7]) expect(judged(madeWorld(seed, 'network slow')).named.map((each) => each.dimension)).not.toContain('resolver')
  })
  it('names a version only where one check has several of them', () => {
    const world = madeWorld(6, 'check slow')
    const slow = world.tries.columns[0]!
    const place = slow.names.indexOf((world.truth as { value: string }).value)
    // every check has one version
    const version: Column = { dimension: 'HTTP version', codes: slow.codes.map((code) => (code === place ? 1 : 0)), names: ['HTTP/2', 'HTTP/1.1'] }
    const fixed = judged({ ...world, tries: { ...world.tries, columns: [version, ...world.tries.columns] } })
    expect(fixed.named.map((each) => each.dimension)).not.toContain('HTTP version')
    expect(fixed.named[0]).toMatchObject(world.truth as object)
    const mixed = { ...version, codes: version.codes.map((code, index) => (index % 97 === 0 ? 1 - code : code)) }
    expect(judged({ ...world, tries: { ...world.tries, columns: [mixed, ...world.tries.columns] } }).contrast.findings.map((each) => each.dimension)).toContain('HTTP version')
  })
  it('says when it was only where nothing else accounts for it', () => {
    const hoursOf = ({ tries }: MadeWorld) => byClock(tries, 'hour', 'UTC')
    const wide = (cause: Cause) => {
      const world = madeWorld(12, cause, { hours: 6 })
      // the stretch begins long before the trouble, which fills one hour of it
      return judged({ ...world, tries: { ...world.tries, columns: [hoursOf(world), ...world.tries.columns] }, stretch: { from: world.stretch.from - 2 * HOUR, to: world.stretch.to } })
    }
    const everything = wide('everything waits')
    expect([everything.outcome, everything.named.map((each) => each.dimension)]).toEqual(['named', ['hour']])
    expect(speakVerdict(everything, (_, value) => value).title).toMatch(/^Between \d\d:00 and \d\d:00 everything was slow to answer, wherever it is asked from\.$/)
    expect(everything.parties.find((each) => each.kind === 'origin')?.verdict).toBe('to blame')
    expect(wide('server slow').named[0]?.dimension).toBe('server')
    expect(wide('none').outcome).toBe('nothing')
  })
  it('tells what was measured beside and rose with it', () => {
    const world = madeWorld(11, 'name service slow')
    const { at, count } = { at: world.tries.at, count: world.tries.count }
    // measured beside one try in five
    world.tries.times.resolution = Float32Array.from({ length: count }, (_, index) => (index % 5 > 0 ? Number.NaN : at[index]! >= world.stretch.from ? 900 : 120))
    expect(judged(world).companions).toEqual([expect.objectContaining({ metric: 'resolution', before: 120, now: 900 })])
  })
  it('does not take a far place for a change: each try is set beside its own place', () => {
    const world = madeWorld(11, 'network slow')
    const { location, count } = world.tries
    world.tries.times.rtt = Float32Array.from({ length: count }, (_, index) => 10 * (1 + location[index]!))
    world.tries.times.hops = Float32Array.from({ length: count }, (_, index) => 5 + location[index]!)
    expect(judged(world).companions.filter((each) => each.metric !== 'loss')).toEqual([])
  })
  it('tells of another way, longer or shorter', () => {
    for (const more of [2, -1]) {
      const world = madeWorld(11, 'network slow')
      const { at, location, count } = world.tries
      world.tries.times.hops = Float32Array.from({ length: count }, (_, index) => (index % 9 > 0 ? Number.NaN : 6 + (location[index]! % 3) + (at[index]! >= world.stretch.from ? more : 0)))
      const way = judged(world).companions.find((each) => each.metric === 'hops')!
      expect(way.now - way.before).toBeCloseTo(more, 6)
      expect(speakVerdict(judged(world), (_, value) => value).rows).toContainEqual(expect.objectContaining({ what: 'Steps on the way', inside: String(Math.round(10 * way.now) / 10) }))
    }
  })
  it('finds the cause of failures that came before as well, where it is asked why tries fail', () => {
    const world = madeWorld(3, 'server fails')
    const { tries, stretch, networks } = world
    // as many failed in the hour before, for the same reason
    const again = { from: stretch.from - (stretch.to - stretch.from), to: stretch.from }
    const { inside } = splitAt(tries, stretch)
    const before = { ...inside, at: inside.at.map((at) => at - (stretch.to - stretch.from)) }
    expect(before.at.every((at) => at >= again.from && at < again.to)).toBe(true)
    const asked = (isAboutFailures: boolean) => judge(inside, before, 'total', parties, networks, { isAboutFailures })
    expect(asked(false).of).toBe('times')
    expect(asked(true)).toMatchObject({ of: 'failures', outcome: 'named', named: [world.truth] })
    // the question makes no other verdict of a world where it is plain already
    for (const cause of CAUSES.filter((each) => each.includes('fail'))) {
      for (const seed of [21, 22, 23]) {
        const made = madeWorld(seed, cause)
        const parts = splitAt(made.tries, made.stretch)
        expect([cause, seed, isRight(made, judge(parts.inside, parts.outside, 'total', parties, made.networks, { isAboutFailures: true }))]).toEqual([cause, seed, true])
      }
    }
    // and nothing where a few fail here and there
    const { inside: well, outside } = splitAt(madeWorld(4, 'none').tries, madeWorld(4, 'none').stretch)
    expect(judge(well, outside, 'total', parties, networks, { isAboutFailures: true }).outcome).toBe('nothing')
  })
  it('says nothing of too few observations', () => {
    const world = madeWorld(3, 'server fails')
    expect(judged({ ...world, stretch: { from: world.stretch.from, to: world.stretch.from + 2000 } }).outcome).toBe('few')
  })
})
