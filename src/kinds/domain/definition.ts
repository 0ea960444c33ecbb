import { describeKind } from '../../core/definitions/describe-kind'
import { isHost, textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'
import { HOUR } from '../../core/units'

export interface DomainTarget {
  name: string
  /** Where the registry answers; found through the register of registries without it. */
  server?: string
}

const isDomain = (text: string) => isHost(text) && /\./.test(text.replace(/\.$/, ''))
const isServer = (text: string) => URL.canParse(text) && /^https?:$/.test(new URL(text).protocol)

export const domainDefinition = describeKind<DomainTarget>({
  kind: 'domain',
  name: 'the end of a domain',
  family: 'network',
  proves: 'The registration of a domain lasts long enough, and its registry says who holds it, its state and its name servers.',
  doesNotProve: 'That the name resolves; ask for its records for that.',
  fields: {
    name: textTarget('domain', { isNeeded: true, most: 253, fits: isDomain, expected: 'a domain such as example.org' }),
    server: textTarget('address of the registry (RDAP)', { fits: isServer, expected: 'an address such as https://rdap.registry.example/' })
  },
  blank: { name: 'address.invalid' },
  addressField: 'name',
  inSentence: ['name'],
  sentence: (target, part) => [say('Ask the registry when the domain '), part('name', { look: 'code' }), say(' ends')],
  address: (target) => target.name,
  guess: (text) => {
    const [, name] = /^(?:domain|rdap):(?:\/\/)?([^\s/]+)$/i.exec(text.trim()) ?? []
    return name && isDomain(name) ? { written: { name }, address: name, name: `${name}, registration` } : undefined
  },
  shortest: 6 * HOUR,
  firstConditions: () => [{ left: { min: '14d', warn: '45d' } }],
  offers: [
    { name: 'the registration lasts', written: { left: { min: '14d', warn: '45d' } } },
    { name: 'the state contains …', written: { state: { has: 'active' } } },
    { name: 'the name servers are exactly …', written: { servers: { is: ['ns1.example.org', 'ns2.example.org'] } } },
    { name: 'the registrar is …', written: { registrar: { has: 'Example Registrar' } } }
  ],
  readings: { left: { unit: 'time', says: 'time until the registration ends' } },
  facts: { state: { says: 'state of the domain', many: 'states' }, servers: { says: 'list of name servers', many: 'name servers' }, registrar: { says: 'registrar' } },
  phases: ['lookup', 'connect', 'tls', 'wait', 'receive']
})
