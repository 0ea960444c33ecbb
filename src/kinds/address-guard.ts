import ipaddr from 'ipaddr.js'
import { remembering } from '../core/remembering'

/** Metadata services of hosting platforms that are not link-local. */
const METADATA = ['100.100.100.200', 'fd00:ec2::254', '192.0.0.192'].map((address) => ipaddr.process(address).toNormalizedString())

/**
 * Whether an address must not be asked from a location that does not allow it: link-local (RFC 3927, RFC 4291
 * section 2.5.6), metadata, unspecified, multicast and broadcast addresses, also when mapped into IPv6.
 */
export function isInternalAddress(address: string): boolean {
  if (!ipaddr.isValid(address)) return false
  const parsed = ipaddr.process(address)
  if (METADATA.includes(parsed.toNormalizedString())) return true
  return ['linkLocal', 'unspecified', 'multicast', 'broadcast'].includes(parsed.range())
}

/** What a location may ask. */
export interface AddressRules {
  allowsInternal: boolean
  /** Address ranges (CIDR); when there are any, nothing else is asked. */
  ranges: string[]
}

/** Whether a text is an address range such as 192.0.2.0/24 or 2001:db8::/32. */
export function isRange(text: string): boolean {
  return ipaddr.isValidCIDR(text)
}

const judgements = new WeakMap<AddressRules, (address: string) => string | undefined>()

/** Why an address must not be asked under some rules; undefined when it may. Names that a proxy resolves are not judged here. */
export function refusalOf(address: string, rules: AddressRules): string | undefined {
  const judged = judgements.get(rules) ?? remembering(5000, (each: string) => judge(each, rules))
  judgements.set(rules, judged)
  return judged(address)
}

function judge(address: string, { allowsInternal, ranges }: AddressRules): string | undefined {
  if (!ipaddr.isValid(address)) return undefined
  const parsed = ipaddr.process(address)
  const within = ranges.some((range) => {
    const [network, bits] = ipaddr.parseCIDR(range)
    return network.kind() === parsed.kind() && parsed.match([network, bits] as never)
  })
  if (ranges.length > 0 && !within) return `${address} lies outside the address ranges that this location may ask`
  return allowsInternal || within || !isInternalAddress(address) ? undefined : `${address} is a link-local or metadata address, which this location does not ask`
}
