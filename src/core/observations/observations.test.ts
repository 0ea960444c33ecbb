import { asCurl } from './curl'
import { headersBeside } from './differences'

describe('an observation', () => {
  it('is a command that asks the same server again', () => {
    expect(asCurl({ method: 'POST', url: "https://book.orrinsound.example/it's", headers: [['user-agent', 'Hemeron'], ['content-length', '3'], ['x-note', "o'clock"]] }, '198.51.100.14'))
      .toBe(`curl -sS -i -X POST --resolve 'book.orrinsound.example:443:198.51.100.14' -H 'user-agent: Hemeron' -H 'x-note: o'\\''clock' 'https://book.orrinsound.example/it'\\''s'`)
    expect(asCurl({ method: 'GET', url: 'http://[2001:db8::1]:8080/', headers: [] })).toBe(`curl -sS -i 'http://[2001:db8::1]:8080/'`)
    expect(asCurl({ method: 'GET', url: 'http://host.example:8080/', headers: [] }, '2001:db8::2')).toContain(`--resolve 'host.example:8080:[2001:db8::2]'`)
  })
  it('stands beside another answer with what differs marked, but not what always does', () => {
    expect(headersBeside([['Date', 'now'], ['x-served-by', 'edge-4'], ['retry-after', '30']], [['date', 'then'], ['X-Served-By', 'edge-1'], ['content-type', 'text/html']])).toEqual([
      { name: 'Date', now: 'now', before: 'then', differs: false }, { name: 'x-served-by', now: 'edge-4', before: 'edge-1', differs: true }, { name: 'retry-after', now: '30', differs: true }, { name: 'content-type', before: 'text/html', differs: true }
    ])
  })
})
