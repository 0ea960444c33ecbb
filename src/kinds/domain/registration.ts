/** What a registry says of a domain. */
export interface Registration {
  ends?: number
  begun?: number
  changed?: number
  states: string[]
  servers: string[]
  registrar?: string
}

type Json = Record<string, unknown>
const list = (value: unknown): Json[] => (Array.isArray(value) ? value.filter((each): each is Json => each !== null && typeof each === 'object') : [])
const texts = (value: unknown): string[] => (Array.isArray(value) ? value.filter((each): each is string => typeof each === 'string') : [])

/** Reads a registry's answer about a domain (RFC 9083, section 5.3); undefined when it is none. */
export function readRegistration(answer: unknown): Registration | undefined {
  if (answer === null || typeof answer !== 'object' || (answer as Json).objectClassName !== 'domain') return undefined
  const domain = answer as Json
  const event = (action: string) => {
    const date = list(domain.events).find((each) => each.eventAction === action)?.eventDate
    const at = typeof date === 'string' ? Date.parse(date) : Number.NaN
    return Number.isNaN(at) ? undefined : at
  }
  const registrar = list(domain.entities).find((each) => texts(each.roles).includes('registrar'))
  const name = registrar && nameOf(registrar)
  const found: Registration = {
    states: texts(domain.status), servers: list(domain.nameservers).flatMap((each) => (typeof each.ldhName === 'string' ? [each.ldhName.toLowerCase().replace(/\.$/, '')] : [])).sort()
  }
  const [ends, begun, changed] = [event('expiration'), event('registration'), event('last changed')]
  if (ends !== undefined) found.ends = ends
  if (begun !== undefined) found.begun = begun
  if (changed !== undefined) found.changed = changed
  if (name !== undefined) found.registrar = name
  return found
}

/** The formatted name in an entity's card (RFC 7095, section 3.3). */
function nameOf(entity: Json): string | undefined {
  const [, properties] = Array.isArray(entity.vcardArray) ? entity.vcardArray as unknown[] : []
  for (const property of Array.isArray(properties) ? properties as unknown[] : []) {
    if (Array.isArray(property) && property[0] === 'fn' && typeof property[3] === 'string') return property[3]
  }
  return typeof entity.handle === 'string' ? entity.handle : undefined
}

/** The address at which the registry of a domain answers, from the register of registries (RFC 9224, section 4). */
export function registryOf(register: unknown, domain: string): string | undefined {
  const services = (register as Json | null)?.services
  const labels = domain.toLowerCase().replace(/\.$/, '').split('.')
  for (let start = 0; start < labels.length; start += 1) {
    const suffix = labels.slice(start).join('.')
    for (const service of Array.isArray(services) ? services as unknown[] : []) {
      const [names, addresses] = Array.isArray(service) ? service as unknown[] : []
      if (texts(names).includes(suffix)) return texts(addresses).find((address) => address.startsWith('https:')) ?? texts(addresses)[0]
    }
  }
  return undefined
}
