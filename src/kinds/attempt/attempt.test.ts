import fc from 'fast-check'
import { setTimeout as sleep } from 'node:timers/promises'
import { PHASES } from '../../core/observation'
import { REASONS } from '../../core/reasons/reasons'
import { LinkError } from '../link'
import { redirected } from '../http/redirect'
import { redactHeaders, secretsInHeaders } from '../http/redact'
import { distrustReason } from './certificate'
import { failureOf, TryFailure } from './failure'
import { patience } from './patience'
import { PhaseClock } from './phase-clock'
import { isReadingQuery } from './read-only'
import { printable, Talk } from './talk'
import { textBytes } from './text-bytes'
import { wayTable } from './way-table'

describe('what was thrown in a try', () => {
  it('is a reason of the closed list with a sentence, in every phase', () => {
    for (const phase of PHASES) {
      for (const found of [failureOf(new Error('x'), phase, true, 5000), failureOf(new Error('x'), phase, false, 5000), failureOf(undefined, phase, false, 5000), failureOf({ code: 'ECONNRESET' }, phase, false, 5000)]) {
        expect(Object.keys(REASONS)).toContain(found.reason)
        expect(found.message).toMatch(/^[a-z].{10,}[^.]$/)
      }
      expect(failureOf(new Error('x'), phase, true, 5000).message).toContain('within 5 s')
    }
  })
  it('stays what it is when it was said already, and when the link says it', () => {
    const own = new TryFailure('status', 'the status is 503')
    expect(failureOf(own, 'wait', true, 5000)).toBe(own)
    expect(failureOf(new LinkError('connection-refused', '192.0.2.1:443 refuses the connection'), 'connect', false, 5000)).toMatchObject({ reason: 'connection-refused', message: '192.0.2.1:443 refuses the connection' })
  })
  it.each([
    [{ code: 'ECONNRESET' }, 'the server closed the connection during the handshake'], [{ code: 'ERR_SSL_WRONG_VERSION_NUMBER' }, 'the server does not speak TLS on this port'], [{ code: 'ERR_SSL_X', message: 'ssl3 alert handshake failure' }, 'the server answers “handshake failure”'], [{ code: 'ERR_SSL_NO_CIPHERS_AVAILABLE' }, 'no ciphers available']
  ])('during TLS, %j is in words', (error, words) => expect(failureOf(error, 'tls', false, 5000)).toMatchObject({ reason: 'tls-failed', message: `no TLS session: ${words}` }))
})

describe('the time of a try', () => {
  it('runs out by itself, and says so', async () => {
    const { signal, isOver, end } = patience(20)
    expect([signal.aborted, isOver()]).toEqual([false, false])
    await sleep(60)
    expect([signal.aborted, isOver()]).toEqual([true, true])
    end()
  })
  it('ends with the try, which is not running out', async () => {
    const { signal, isOver, end } = patience(30)
    end()
    await sleep(60)
    expect([signal.aborted, isOver()]).toEqual([true, false])
  })
})

describe('the clock of phases', () => {
  it('adds up a phase that comes again, and leaves out what lies between', async () => {
    const clock = new PhaseClock(performance.now())
    clock.begin('lookup')
    await sleep(15)
    clock.begin('connect')
    await sleep(15)
    clock.stop()
    await sleep(30)
    clock.begin('lookup')
    await sleep(15)
    const all = clock.stop()
    const { lookup = 0, connect = 0 } = clock.times
    expect(lookup).toBeGreaterThan(25)
    expect(connect).toBeGreaterThan(10)
    // what lay between belongs to no phase
    expect(all - lookup - connect).toBeGreaterThan(25)
    expect(Object.keys(clock.times).sort()).toEqual(['connect', 'lookup'])
  })
})

describe('what was said over a connection', () => {
  it('is kept line by line, without what could disturb a page, and not without end', () => {
    const talk = new Talk(performance.now())
    talk.sent('EHLO\u0007 probe')
    talk.received('x'.repeat(5000))
    for (let line = 0; line < 500; line += 1) talk.note('tls')
    expect(talk.lines).toHaveLength(200)
    expect(talk.lines[0]).toMatchObject({ way: 'sent', text: 'EHLO· probe' })
    expect(talk.lines[1]!.text).toHaveLength(1000)
  })
  it('has no control characters but tabs and line ends', () => fc.assert(fc.property(fc.string({ unit: 'binary' }), (text) => {
    expect(printable(text)).not.toMatch(/[\u0000-\u0008\u000b-\u001f\u007f]/)
    expect(printable(text)).toHaveLength(text.length)
  })))
  it('is sent as bytes, with \\n, \\0 and \\x41 for what cannot be typed', () => {
    expect(textBytes('a\\r\\nb\\0\\x41\\\\n\\q')).toEqual(Buffer.from('a\r\nb\0A\\n\\q', 'latin1'))
    fc.assert(fc.property(fc.string().filter((text) => !text.includes('\\')), (text) => expect(textBytes(text).toString('utf8')).toBe(Buffer.from(text).toString('utf8'))))
  })
})

describe('a redirect', () => {
  const from = { url: new URL('https://book.orrinsound.example/pay?x=1'), method: 'POST', body: 'a=1' }
  const to = (status: number, location: string | undefined) => redirected({ status, headers: location === undefined ? [] : [['Location', location]] }, from)
  it.each([[301, 'GET'], [302, 'GET'], [303, 'GET'], [307, 'POST'], [308, 'POST']])('%d of a POST is followed with %s (RFC 9110, section 15.4)', (status, method) => {
    expect(to(status, '/done')).toMatchObject({ method, url: new URL('https://book.orrinsound.example/done') })
    expect(to(status, '/done')?.body).toBe(method === 'POST' ? 'a=1' : undefined)
  })
  it('leads to another host, and nowhere without a place or with another status', () => {
    expect(to(302, '//pay.orrinsound.example/')?.url.host).toBe('pay.orrinsound.example')
    expect([to(302, undefined), to(200, '/done'), to(304, '/done')]).toEqual([undefined, undefined, undefined])
  })
  it.each(['javascript:alert(1)', 'ftp://files.example/', 'http://'])('to %s is a failure in words', (location) => expect(() => to(302, location)).toThrow(/which is no web address$/))
})

describe('credentials in headers', () => {
  it('are hidden by the name of their header, and wherever a target repeats them', () => {
    const typed = { Authorization: 'Bearer token-of-ines', 'X-Api-Key': 'key-77-long', accept: 'text/html' }
    expect(secretsInHeaders(typed)).toEqual(['Bearer token-of-ines', 'token-of-ines', 'key-77-long', 'key-77-long'])
    expect(redactHeaders([['Set-Cookie', 'visit=1'], ['X-Echo', 'you sent token-of-ines'], ['Content-Type', 'text/html']], secretsInHeaders(typed))).toEqual([['Set-Cookie', '(hidden)'], ['X-Echo', 'you sent (hidden)'], ['Content-Type', 'text/html']])
  })
})

describe('a certificate that is not accepted', () => {
  const now = Date.parse('2026-11-25T12:00:00Z')
  const facts = { subject: 'a.example', issuer: 'Orrin Demo Authority', names: ['a.example', 'b.example'], validFrom: now - 86_400_000, validTo: now + 86_400_000, fingerprint: '', protocol: 'TLSv1.3', cipher: '', trusted: false }
  it.each([
    ['CERT_HAS_EXPIRED', {}, 'certificate-expired', /^the certificate ended/], ['', { validTo: now - 3_600_000 }, 'certificate-expired', /^the certificate ended 1 h ago, on 2026-11-25$/], ['CERT_NOT_YET_VALID', {}, 'certificate-not-yet-valid', /^the certificate begins only on 2026-11-24$/],
    ['ERR_TLS_CERT_ALTNAME_INVALID', {}, 'certificate-wrong-name', /^the certificate is for a\.example, b\.example, not for www\.example$/], ['SELF_SIGNED_CERT_IN_CHAIN', {}, 'certificate-not-trusted', /its chain ends in an authority this location does not know$/], ['SOME_NEW_CODE', {}, 'certificate-not-trusted', /: some new code$/]
  ])('for %s %j says why', (distrust, more, reason, sentence) => expect(distrustReason({ ...facts, distrust, ...more }, 'www.example', now)).toEqual({ reason, sentence: expect.stringMatching(sentence) as string }))
})

describe('a query that only reads', () => {
  it.each(['SELECT 1', '  select name from ships -- all of them', 'WITH a AS (SELECT 1) SELECT * FROM a;', "SELECT 'drop table ships; --' AS words", 'SHOW STATUS', 'VALUES (1)', '/* insert */ SELECT 1', "SELECT name FROM ships WHERE name LIKE '50\\%' AND state <> 'delete'"])('%s is one', (query) => expect(isReadingQuery(query)).toBe(true))
  it.each(['', 'DROP TABLE ships', 'SELECT 1; DELETE FROM ships', 'SELECT * FROM ships FOR UPDATE', "SELECT * INTO OUTFILE '/tmp/x' FROM ships", 'WITH a AS (DELETE FROM ships RETURNING 1) SELECT * FROM a', 'CALL mend()', 'UPDATE ships SET a = 1', "SELECT '/*'; DELETE FROM ships WHERE a = '*/'", "SELECT 'a\\'; DELETE FROM ships; --'", 'SELECT "--"; DROP TABLE ships'])('%s is none', (query) => expect(isReadingQuery(query)).toBe(false))
})

describe('the way to an address', () => {
  it('is a table, with what stood at a changed step before', () => {
    const hops = [{ away: 1, addresses: ['192.0.2.1'], times: [1, 2, 3] }, { away: 2, addresses: [], times: [null, null, null] }, { away: 3, addresses: ['198.51.100.1', '198.51.100.2'], times: [9, null, 11] }]
    const table = wayTable('The way', hops as never, [3], { 3: ['203.0.113.9'] } as never)
    expect(table.rows.map((row) => [row[0], row[1], row[4]])).toEqual([[1, '192.0.2.1', null], [2, 'does not answer', null], [3, '198.51.100.1, 198.51.100.2', '203.0.113.9']])
    expect([table.rows[0]![2], table.rows[1]![2], table.rows[1]![3], table.rows[2]![2]]).toEqual([0, 1, null, 1 / 3])
  })
})
