import { readFileSync, writeFileSync } from 'node:fs'
import type { KindDefinition } from '../../src/core/definitions/kind'
import { kindsPage } from '../../src/core/definitions/kinds-page'
import { problemsOf } from '../../src/core/definitions/problems-of'
import { conditionSchema } from '../../src/core/conditions/condition-schema'
import { subjectsOf } from '../../src/core/conditions/subjects'
import { settleCheck } from '../../src/core/layers/settle'
import { checkSentence } from '../../src/core/sentence/check-sentence'
import { readPart } from '../../src/core/sentence/read-part'
import { plainText } from '../../src/core/sentence/sentence'
import { kinds } from '../../src/kinds/definitions'
import { runners } from '../../src/kinds/runners'
import { CHECKS } from '../world/company'

const all = Object.values(kinds) as unknown as KindDefinition[]
const around = { workspace: {}, secrets: {} }
const settle = (document: Record<string, unknown>) => {
  const read = settleCheck({ check: 'x', name: 'X', ...document }, around, kinds)
  if ('problems' in read) throw new Error(JSON.stringify(read.problems))
  return read.settled
}
/** Targets of the demo world, whose variables have values here. */
const targets = CHECKS.map((check) => {
  const kind = Object.keys(kinds).find((each) => check[each] !== undefined)!
  return [kind, JSON.parse(JSON.stringify(check[kind]).replaceAll(/\$\{(BASE|FARES|TIDES|BERTHS)\}/g, 'https://www.orrinsound.example').replaceAll(/\$\{[A-Z_]+\}/g, 'some-secret')) as Record<string, unknown>] as const
})

describe('every kind', () => {
  it.each(all.map((kind) => [kind.kind, kind] as const))('%s says what it is, and runs', (_key, kind) => {
    expect(runners[kind.kind]).toBeDefined()
    expect(kind.proves).toMatch(/\.$/)
    expect(kind.doesNotProve).toMatch(/\.$/)
    expect(problemsOf(kind.schema, kind.blank).filter((problem) => !problem.found.includes('${'))).toEqual([])
    const blank = kind.read(kind.blank)
    // what Hemeron judges itself asks nobody, so that it has no address that could go astray
    if (kind.inside?.(blank)) expect(kind.requests(blank)).toBe(0)
    else expect(kind.address(blank)).toContain('address.invalid')
    expect(new Set(Object.keys(kind.readings)).size + Object.keys(kind.facts).length).toBe(new Set([...Object.keys(kind.readings), ...Object.keys(kind.facts)]).size)
  })

  it.each(all.map((kind) => [kind.kind, kind] as const))('%s offers conditions that fit it, and they are said and read back', (_key, kind) => {
    const subjects = subjectsOf(kinds, kind.kind)
    const target = kind.read(kind.blank)
    for (const written of [...kind.offers.map((offer) => offer.written), ...kind.firstConditions(target)]) {
      expect(problemsOf(conditionSchema(subjects) as never, written)).toEqual([])
      const settled = settle({ [kind.kind]: { ...kind.blank, ...(kind.kind === 'mail' ? { mailboxPassword: 'some-secret' } : {}) }, pass: [written] })
      const sentence = checkSentence(settled.check, kinds, []).conditions[0]!
      for (const piece of sentence.filter((each) => each.part !== undefined)) {
        const again = readPart({ check: 'x', name: 'X', [kind.kind]: settled.document[kind.kind], pass: [written] }, settled, around, kinds, piece.part!, piece.text)
        expect(again).toMatchObject({ document: { pass: [written] } })
      }
    }
  })

  it.each(targets)('%s is written as it was read: %j', (kind, written) => {
    const definition = kinds[kind] as unknown as KindDefinition
    expect(problemsOf(definition.schema, written)).toEqual([])
    const target = definition.read(written)
    expect(definition.read(definition.write(target))).toEqual(target)
    for (const piece of definition.sentence(target)) {
      if (piece.part === undefined || piece.part.endsWith('.more')) continue
      expect(definition.readPart(target, piece.part, piece.text)).toEqual(target)
    }
  })

  it('takes a wrong text for none of its parts without saying what it expects', () => {
    for (const kind of all) {
      const target = kind.read(kind.blank)
      expect(kind.readPart(target, kind.addressPart, 'not an address at all \u0000 <>')).toHaveProperty('expected')
      expect(kind.readPart(target, 'other.part', 'x')).toBeUndefined()
    }
  })

  it('shares the name of a number or a word only where it means the same', () => {
    const seen = new Map<string, string>()
    for (const kind of all) for (const [name, { unit }] of Object.entries(kind.readings)) {
      expect(seen.get(name) ?? unit).toBe(unit)
      seen.set(name, unit)
    }
    for (const kind of all) for (const name of Object.keys(kind.facts)) expect(seen.has(name)).toBe(false)
  })
})

describe('a pasted address', () => {
  it.each([
    ['https://www.orrinsound.example/x', 'http'], ['www.orrinsound.example', 'http'], ['wss://boards.orrinsound.example/live', 'websocket'], ['ping://tides.orrinsound.example', 'ping'], ['db.orrinsound.example:3306', 'tcp'],
    ['tcp://db.orrinsound.example:3306', 'tcp'], ['udp://beacon.orrinsound.example:7777', 'udp'], ['orrinsound.example MX', 'dns'], ['dns:orrinsound.example', 'dns'], ['tls://book.orrinsound.example', 'certificate'],
    ['domain:orrinsound.example', 'domain'], ['smtps://mail.orrinsound.example', 'smtp'], ['imaps://mail.orrinsound.example', 'imap'], ['pop3s://mail.orrinsound.example', 'pop3'], ['ftp://files.orrin-freight.example', 'ftp'],
    ['sip://hotline.orrin-freight.example', 'sip'], ['https://cameras.orrinsound.example/live.m3u8', 'stream'], ['mqtt://sensors.orrinsound.example', 'mqtt'], ['ntp://clock.orrinsound.example', 'ntp'],
    ['redis://:secret@cache.orrinsound.example:6380/2', 'redis'], ['mysql://db.orrinsound.example', 'mysql'], ['postgresql://db.orrinsound.example/orders', 'postgres'], ['grpc://fares.orrinsound.example:50051', 'grpc'], ['nonsense here', undefined]
  ])('%s is taken by %s first', (text, expected) => {
    const found = all.find((kind) => kind.guess(text) !== undefined)
    expect(found?.kind).toBe(expected)
    if (!found) return
    const { written } = found.guess(text)!
    expect(problemsOf(found.schema, written)).toEqual([])
    expect(JSON.stringify(written)).not.toContain('secret')
    expect(plainText(found.sentence(found.read(written))).length).toBeGreaterThan(10)
  })
})

it('docs/kinds.md says the same (UPDATE_DOCS=1 writes it anew)', () => {
  const page = kindsPage(kinds)
  if (process.env.UPDATE_DOCS) writeFileSync('docs/kinds.md', page)
  expect(readFileSync('docs/kinds.md', 'utf8')).toBe(page)
})
