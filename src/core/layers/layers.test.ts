import fc from 'fast-check'
import { kinds } from '../../kinds/definitions'
import type { CheckDocument } from '../definitions/check'
import type { ServiceDocument } from '../definitions/service'
import { checkSentence } from '../sentence/check-sentence'
import { giveBack, readPart } from '../sentence/read-part'
import { inherit, overridden, subjectOf } from './inherit'
import { redactAll, redactText } from './redact'
import { acceptedSettled, settleCheck, type Surroundings } from './settle'
import { refersToVariables, resolveVariables, type VariableLayer } from './variables'

const service: ServiceDocument = {
  service: 'sales', name: 'Sales', every: '30s', from: ['bergen', 'lisbon'], down: { tries: 3, of: 5, locations: 2 }, slow: { above: '900ms', for: '10m' },
  pass: [{ status: '200-299' }, { certificate: { min: '3d', warn: '14d' } }], variables: { BASE: 'https://book.orrinsound.example', PATH: '/api' }, secrets: ['TOKEN']
}
const workspace = { wait: '5s', importance: 'high', down: { apart: '20s' }, variables: { BASE: 'https://workspace.example', ZONE: 'north' } }
const around: Surroundings = { service, workspace, secrets: { service: { TOKEN: 'correct-horse' } } }
const own: CheckDocument = { check: 'fares', name: 'Fares', service: 'sales', http: { url: '${BASE}${PATH}/fares', auth: { bearer: '${TOKEN}' } } }

const settle = (document: object, surroundings: Surroundings = around) => {
  const read = settleCheck(document, surroundings, kinds)
  if ('problems' in read) throw new Error(JSON.stringify(read.problems))
  return read.settled
}
const problems = (document: unknown, surroundings: Surroundings = around) => {
  const read = settleCheck(document, surroundings, kinds)
  return 'problems' in read ? read.problems : []
}

describe('what a check takes from its service and the workspace', () => {
  it('is the nearest that says anything, part by part', () => {
    const { check, origins } = settle(own)
    expect(check).toMatchObject({ every: 30_000, from: ['bergen', 'lisbon'], wait: 5000, importance: 'high', down: { tries: 3, of: 5, apart: 20_000, locations: 2 }, up: { tries: 2 }, slow: { above: 900, for: 600_000, locations: 2 } })
    expect(origins).toMatchObject({ every: 'service', wait: 'workspace', 'down.tries': 'service', 'down.apart': 'workspace', 'up.tries': 'built in', turns: 'built in', 'slow.for': 'service' })
  })

  it('is overridden in one part and kept in the others', () => {
    const { check, origins } = settle({ ...own, every: '10s', down: { locations: 1 }, slow: { for: '1m' } })
    expect(check).toMatchObject({ every: 10_000, down: { tries: 3, of: 5, apart: 20_000, locations: 1 }, slow: { above: 900, for: 60_000 } })
    expect(origins).toMatchObject({ every: 'check', 'down.locations': 'check', 'down.tries': 'service', 'slow.above': 'service', 'slow.for': 'check' })
  })

  it('does not keep “of the last n” of the service for tries of its own', () => {
    expect(settle({ ...own, down: { tries: 2 } }).check.down).toEqual({ tries: 2, apart: 20_000, locations: 2 })
  })

  it('can be not at all', () => {
    const withHours = { ...around, service: { ...service, hours: { at: ['daily 06:00-22:00'] }, window: { only: true } } }
    expect(settle(own, withHours).check).toMatchObject({ hours: { at: [{ from: 360, to: 1320 }] }, window: { only: true } })
    const { check, origins } = settle({ ...own, slow: 'none', hours: 'always', window: 'none' }, withHours)
    expect([check.slow, check.hours, check.window, origins.slow]).toEqual([undefined, undefined, undefined, 'check'])
  })

  it('begins again below a word for “not at all”', () => {
    const { check } = settle({ ...own, slow: { above: '2s' } }, { ...around, service: { ...service, slow: 'none' }, workspace: { slow: { above: '1s', for: '1h' } } })
    expect(check.slow).toMatchObject({ above: 2000, for: 300_000 })
  })

  it('says a mistake of the whole where only both together make it', () => {
    expect(problems({ ...own, slow: { for: '1m' } }, { ...around, service: { ...service, slow: undefined } })).toMatchObject([{ path: 'slow.above', expected: expect.stringContaining('usual') as string }])
    expect(problems({ ...own, slow: { for: '1m' } })).toEqual([])
  })
})

describe('common conditions of a service', () => {
  it('come first, give way to own ones on the same subject in their place, and can be left out', () => {
    const { check, conditions } = settle({ ...own, pass: [{ json: '$.fares', count: { min: 3 } }, { status: 401 }], without: ['certificate'] })
    expect(check.pass.map(({ test }) => test.on)).toEqual(['status', 'json'])
    expect(check.pass[0]!.test).toMatchObject({ set: [{ from: 401, to: 401 }] })
    expect(conditions).toEqual([{ origin: 'check', own: 1, subject: 'status' }, { origin: 'check', own: 0, subject: 'json $.fares' }])
  })

  it('are told apart by what they look at', () => {
    expect([{ json: '$.a', is: 1 }, { header: 'etag' }, { phase: 'wait', max: '1s' }, { not: true, size: { max: '1kB' } }].map(subjectOf)).toEqual(['json $.a', 'header etag', 'phase wait', 'size'])
  })

  it('become the check’s own when a part of them is changed in its sentence', () => {
    const settled = settle(own)
    const result = readPart(own, settled, around, kinds, 'pass[1].certificate.warn', '30 days')
    expect(result).toMatchObject({ document: { pass: [{ certificate: { min: '3d', warn: '30d' } }], without: ['certificate'] } })
    const next = settle((result as { document: CheckDocument }).document)
    expect(next.check.pass.map(({ test }) => test.on)).toEqual(['status', 'certificate'])
    expect(next.conditions.map((each) => each.origin)).toEqual(['service', 'check'])
  })
})

describe('the sentence of a check with a service', () => {
  it('says of every inherited part where it comes from, and of no other', () => {
    const settled = settle({ ...own, every: '10s' })
    const { what, conditions, down } = checkSentence(settled.check, kinds, [], settled)
    const origin = Object.fromEntries([...what, ...conditions.flat(), ...down].flatMap((piece) => (piece.part ? [[piece.part, piece.origin]] : [])))
    expect(origin).toMatchObject({ every: undefined, from: 'service', wait: 'workspace', 'down.tries': 'service', 'down.apart': 'workspace', 'pass[0].status': 'service', 'up.tries': 'built in', 'http.url': undefined })
  })

  it('gives an overridden part back to the service', () => {
    const changed = { ...own, every: '10s', down: { tries: 1, locations: 1 } }
    expect(settle(giveBack(changed, 'every')).check.every).toBe(30_000)
    expect(giveBack(giveBack(changed, 'down.tries'), 'down.locations')).not.toHaveProperty('down')
  })

  it('names what a check says otherwise than its service', () => {
    expect(overridden({ ...own, every: '10s', wait: '9s', pass: [{ status: 401 }, { text: 'x' }], variables: { BASE: 'https://other.example' } }, service)).toEqual(['every', 'status', 'BASE'])
    expect(overridden(own, service)).toEqual([])
    expect(overridden(own, undefined)).toEqual([])
  })
})

describe('variables', () => {
  const layers: VariableLayer[] = [
    { from: 'check', variables: { A: 'check a' }, secrets: {} }, { from: 'service', variables: { A: 'service a', B: '${A} and b' }, secrets: { KEY: 'abcdef', UNSET: undefined } },
    { from: 'workspace', variables: { C: 'workspace c', SELF: '${SELF}', ROUND: '${TRIP}', TRIP: '${ROUND}' }, secrets: {} }
  ]

  it('come from the check before the service before the workspace, also through one another', () => {
    const { value, used } = resolveVariables({ url: '${A}/${B}/${C}', list: ['${KEY}', 7, null] }, layers)
    expect(value).toEqual({ url: 'check a/check a and b/workspace c', list: ['abcdef', 7, null] })
    expect(used.map(({ name, from, secret }) => [name, from, secret])).toEqual([['A', 'check', false], ['B', 'service', false], ['C', 'workspace', false], ['KEY', 'service', true]])
  })

  it.each([
    ['${MISSING}', 'a value for MISSING'], ['${UNSET}', 'nobody has set yet'], ['${SELF}', 'SELF → SELF'], ['${ROUND}', 'ROUND → TRIP → ROUND'], ['${}', 'a variable such as'], ['${a b}', 'a variable such as']
  ])('of %s say what is wrong and leave no empty text', (text, words) => {
    const { value, problems: found } = resolveVariables({ http: { url: `x${text}y` } }, layers)
    expect(found).toMatchObject([{ path: 'http.url' }])
    expect(found[0]!.expected).toContain(words)
    expect(JSON.stringify(value)).not.toContain('"xy"')
  })

  it('leave the characters themselves where they are doubled, and never look into the value of a secret', () => {
    expect(resolveVariables('a $${A} b', layers)).toMatchObject({ value: 'a ${A} b', problems: [], used: [] })
    expect(resolveVariables('${KEY}', [{ from: 'service', variables: {}, secrets: { KEY: '${A}' } }]).value).toBe('${A}')
  })

  it('change nothing in a text without any', () => {
    fc.assert(fc.property(fc.string().filter((text) => !text.includes('${')), (text) => expect(resolveVariables({ text }, layers)).toEqual({ value: { text }, used: [], problems: [] })))
  })

  it('put together what runs, with values of secrets, and what is said, without', () => {
    const settled = settle(own)
    expect(settled.resolved.http).toEqual({ url: 'https://book.orrinsound.example/api/fares', auth: { bearer: 'correct-horse' } })
    expect(settled.check.target).toMatchObject({ url: '${BASE}${PATH}/fares' })
    expect(settled.used.map((each) => each.name).sort()).toEqual(['BASE', 'PATH', 'TOKEN'])
  })

  it('can be given for one run, before all others', () => {
    const { resolved, used } = settle(own, { ...around, run: { BASE: 'https://preview.orrinsound.example' } })
    expect(resolved.http).toMatchObject({ url: 'https://preview.orrinsound.example/api/fares' })
    expect(used.find((each) => each.name === 'BASE')).toMatchObject({ from: 'run' })
  })

  it('that are missing are said once, at their place, and at a later run too', () => {
    const found = problems({ ...own, http: { url: '${NOWHERE}/x' } })
    expect(found).toHaveLength(1)
    expect(found[0]).toMatchObject({ path: 'http.url', found: '${NOWHERE}' })
    expect(acceptedSettled({ ...own, http: { url: '${NOWHERE}/x' } }, around, kinds).problems).toMatchObject([{ path: 'http.url' }])
  })

  it('are put in place before the address is judged', () => {
    expect(problems({ ...own, http: { url: '${BASE}' }, variables: { BASE: 'not an address' } })).toMatchObject([{ path: 'http.url', expected: expect.stringContaining('address') as string }])
  })

  it('may stand for limits, which are then said by their values', () => {
    const { check } = settle({ ...own, variables: { LIMIT: '2s' }, pass: [{ phase: 'wait', max: '${LIMIT}' }] })
    expect(check.pass.at(-1)).toMatchObject({ test: { on: 'phase', time: { max: 2000 } } })
  })

  it('name a common condition of the service when the mistake is there', () => {
    expect(problems(own, { ...around, service: { ...service, pass: [{ text: '${WORDS}' }] } })).toMatchObject([{ path: 'service text ${WORDS}.text' }])
  })

  it('are noticed anywhere in a value', () => {
    expect([refersToVariables({ a: [{ b: '${X}' }] }), refersToVariables({ a: 1, b: null }), refersToVariables('x')]).toEqual([true, false, false])
  })
})

describe('secrets in what is recorded', () => {
  it('are cut out as they are, in addresses, in Base64 and in JSON', () => {
    const secret = 'p&s "quoted"'
    const texts = [secret, encodeURIComponent(secret), Buffer.from(secret).toString('base64'), JSON.stringify({ secret })]
    for (const text of texts) expect(redactText(`before ${text} after`, [secret])).not.toMatch(/quoted|cXVvdGVk|%22quoted/)
  })

  it('are cut out of every text inside a value, and nothing else is touched', () => {
    expect(redactAll({ a: ['the token-1 here', 5], b: { c: null, d: 'fine' } }, ['token-1'])).toEqual({ a: ['the (hidden) here', 5], b: { c: null, d: 'fine' } })
  })

  it('never leave the secret, whatever stands around it', () => {
    fc.assert(fc.property(fc.string({ minLength: 4 }), fc.string(), fc.string(), (secret, before, after) => {
      const left = redactText(`${before}${secret}${after}`, [secret])
      fc.pre(!'(hidden)'.includes(secret))
      expect(left.replaceAll('(hidden)', '\u0000').includes(secret)).toBe(false)
    }))
  })
})

describe('inheriting', () => {
  it('never changes what it is given', () => {
    const before = JSON.stringify([own, service, workspace])
    inherit(own, service, workspace)
    expect(JSON.stringify([own, service, workspace])).toBe(before)
  })
})
