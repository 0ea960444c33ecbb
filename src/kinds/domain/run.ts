import { domainToASCII } from 'node:url'
import { DAY } from '../../core/units'
import { runnerOf, type Trying } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { askHttp } from '../http/ask'
import { domainDefinition } from './definition'
import { readRegistration, registryOf } from './registration'

/** The register of registries (RFC 9224, section 3). */
const REGISTER = 'https://data.iana.org/rdap/dns.json'
const MOST = 4_000_000

export const domainRunner = runnerOf(domainDefinition, async ({ name, server }, trying) => {
  const domain = domainToASCII(name.replace(/\.$/, ''))
  const base = server ?? await registryFor(domain, trying)
  const url = new URL(`domain/${domain}`, base.endsWith('/') ? base : `${base}/`)
  const received = await askHttp(trying, { url, headers: { accept: 'application/rdap+json, application/json' }, most: MOST, redirects: 3 })
  const text = trying.answer(received.body)
  trying.noted.bytesReceived = received.wireBytes
  trying.noted.protocol = received.protocol
  if (received.status === 404) throw new TryFailure('name-not-found', `the registry knows no domain ${name}: it is not registered`)
  if (received.status === 429) throw new TryFailure('server-refused', 'the registry answers that it is asked too often (429)')
  if (received.status !== 200) throw new TryFailure('server-failed', `the registry answers ${received.status}`)
  const registration = readRegistration(parsed(text))
  if (!registration) throw new TryFailure('bad-answer', 'the registry’s answer says nothing about a domain')
  const { ends, begun, changed, states, servers, registrar } = registration
  const day = (at: number | undefined) => (at === undefined ? 'not said' : new Date(at).toISOString().slice(0, 10))
  trying.evidence.facts = [['ends', day(ends)], ['registered', day(begun)], ['last changed', day(changed)], ['registrar', registrar ?? 'not said'], ['state', states.join(', ')], ['name servers', servers.join(', ')]]
  return {
    body: text, status: received.status, headers: received.headers,
    ...(ends === undefined ? {} : { readings: { left: ends - Date.now() } }), facts: { state: states, servers, registrar: registrar === undefined ? [] : [registrar] }
  }
})

function parsed(text: string): unknown {
  try {
    return JSON.parse(text) as unknown
  } catch {
    throw new TryFailure('bad-answer', 'the answer is not JSON')
  }
}

/** Looks the registry up once a day and no more. */
async function registryFor(domain: string, trying: Trying): Promise<string> {
  const known = trying.memory.get('registry') as { at: number; address: string } | undefined
  if (known && Date.now() - known.at < DAY) return known.address
  const received = await askHttp(trying, { url: new URL(REGISTER), most: MOST, redirects: 2 })
  const address = registryOf(parsed(received.body.toString('utf8')), domain)
  if (address === undefined) throw new TryFailure('not-supported', `no registry with an open answer is known for ${domain}; give its address`)
  trying.memory.set('registry', { at: Date.now(), address })
  return address
}
