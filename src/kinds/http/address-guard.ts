import ipaddr from 'ipaddr.js'

/** Metadata services of hosting platforms that are not link-local. */
const METADATA = ['100.100.100.200', 'fd00:ec2::254', '192.0.0.192']

/**
 * Whether an address must not be asked from a location that does not allow it: link-local (RFC 3927, RFC 4291
 * section 2.5.6), metadata, unspecified, multicast and broadcast addresses, also when mapped into IPv6.
 */
export function isInternalAddress(address: string): boolean {
  if (!ipaddr.isValid(address)) return false
  const parsed = ipaddr.process(address)
  if (METADATA.some((each) => ipaddr.process(each).toNormalizedString() === parsed.toNormalizedString())) return true
  return ['linkLocal', 'unspecified', 'multicast', 'broadcast'].includes(parsed.range())
}
