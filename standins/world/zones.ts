import type { Answer } from 'dns-packet'
import { HOSTS, MACHINES } from './hosts'

export interface Zone {
  name: string
  /** Its servers, by name and address. */
  servers: { name: string; address: string }[]
  records: Answer[]
}

const HOUR = 3600
const address = (name: string, data: string, ttl = 300): Answer => ({ type: 'A', name, ttl, data })
const soa = (name: string, mname: string): Answer => ({ type: 'SOA', name, ttl: HOUR, data: { mname, rname: `hostmaster.${name === '.' ? 'example' : name}`, serial: 2026112301, refresh: 7200, retry: 900, expire: 1_209_600, minimum: 300 } })
const NAME_SERVERS = [{ name: 'ns1.orrinsound.example', address: '192.0.2.61' }, { name: 'ns2.orrinsound.example', address: '192.0.2.62' }]
const everything = [...HOSTS.flatMap((host) => host.servers.map((server) => address(host.name, server.address, 60))), ...MACHINES.map((machine) => address(machine.name, machine.address))]
const under = (zone: string) => everything.filter((record) => record.name === zone || record.name.endsWith(`.${zone}`))

/** The zones of the demo world: a root, the one below it, and those of the ferry company. */
export const ZONES: Zone[] = [
  { name: '.', servers: [{ name: 'a.root.example', address: '192.0.2.201' }, { name: 'b.root.example', address: '192.0.2.202' }], records: [] },
  { name: 'example', servers: [{ name: 'ns-a.registry.example', address: '192.0.2.71' }, { name: 'ns-b.registry.example', address: '192.0.2.72' }], records: under('registry.example') },
  {
    name: 'orrinsound.example', servers: NAME_SERVERS, records: [
      ...under('orrinsound.example'),
      { type: 'MX', name: 'orrinsound.example', ttl: HOUR, data: { preference: 10, exchange: 'mail.orrinsound.example' } },
      { type: 'TXT', name: 'orrinsound.example', ttl: HOUR, data: 'v=spf1 mx -all' },
      { type: 'CAA', name: 'orrinsound.example', ttl: HOUR, data: { flags: 0, tag: 'issue', value: 'ca.example' } } as Answer,
      { type: 'CNAME', name: 'tickets.orrinsound.example', ttl: 300, data: 'book.orrinsound.example' }
    ]
  },
  {
    name: 'orrin-freight.example', servers: NAME_SERVERS, records: [
      ...under('orrin-freight.example'),
      { type: 'SRV', name: '_sip._udp.orrin-freight.example', ttl: HOUR, data: { priority: 10, weight: 5, port: 5060, target: 'hotline.orrin-freight.example' } }
    ]
  }
].map((zone) => ({ ...zone, records: [soa(zone.name, zone.servers[0]!.name), ...zone.servers.map((server): Answer => ({ type: 'NS', name: zone.name, ttl: HOUR, data: server.name })), ...zone.records] as Answer[] }))

/** Addresses of name servers, as every zone that names them needs to know. */
export const GLUE: Answer[] = ZONES.flatMap((zone) => zone.servers.map((server) => address(server.name, server.address, HOUR)))
