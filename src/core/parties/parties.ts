import ipaddr from 'ipaddr.js'

export const PARTY_KINDS = ['origin', 'hosting', 'name service', 'content network', 'third party', 'transit', 'access network'] as const
export type PartyKind = (typeof PARTY_KINDS)[number]

/** Who stands between a visitor and an answer. Hosts, address ranges and networks belong to it. */
export interface Party {
  key: string
  name: string
  kind: PartyKind
  /** How to reach it: an address, a number, a page. */
  contact?: string
  /** Names of hosts; `*.example.org` stands for all below it. */
  hosts: string[]
  /** Address ranges (CIDR, RFC 4632). */
  ranges: string[]
  /** Names of networks locations sit on. */
  networks: string[]
}

export const ownsHost = ({ hosts }: Pick<Party, 'hosts'>, host: string): boolean =>
  hosts.some((each) => (each.startsWith('*.') ? host.toLowerCase().endsWith(each.slice(1).toLowerCase()) : each.toLowerCase() === host.toLowerCase()))

/** Whether an address lies in one of a party's ranges. */
export function ownsAddress({ ranges }: Pick<Party, 'ranges'>, address: string): boolean {
  if (!ipaddr.isValid(address)) return false
  const read = ipaddr.process(address)
  return ranges.some((range) => {
    const [base, bits] = ipaddr.parseCIDR(range)
    return base.kind() === read.kind() && read.match([base, bits] as never)
  })
}

/** The party of a server: by its address first, since that says who carries it, then by its host. */
export const partyOf = (parties: readonly Party[], { host, address }: { host?: string; address?: string }): Party | undefined =>
  parties.find((each) => address !== undefined && ownsAddress(each, address)) ?? parties.find((each) => host !== undefined && ownsHost(each, host))

export const partyOfNetwork = (parties: readonly Party[], network: string): Party | undefined => parties.find((each) => each.networks.includes(network))
