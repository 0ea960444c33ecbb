/** A name of the demo world, the servers behind it and what they serve. */
export interface Host {
  name: string
  servers: { address: string; name: string }[]
  /** Certificate days left, at every moment. */
  certificateDays: number
  http2?: boolean
}

export const HOSTS: Host[] = [
  { name: 'book.orrinsound.example', certificateDays: 61, servers: [1, 2, 3, 4, 5].map((number) => ({ address: `198.51.100.${10 + number}`, name: `edge-${number}` })) },
  { name: 'fares.orrinsound.example', certificateDays: 61, http2: true, servers: [{ address: '198.51.100.20', name: 'fares-1' }] },
  { name: 'pay.orrinsound.example', certificateDays: 33, http2: true, servers: [{ address: '198.51.100.30', name: 'pay-1' }] },
  { name: 'boards.orrinsound.example', certificateDays: 80, servers: [{ address: '203.0.113.10', name: 'boards-1' }] },
  { name: 'tides.orrinsound.example', certificateDays: 12, servers: [{ address: '203.0.113.20', name: 'tides-1' }] },
  { name: 'berths.orrinsound.example', certificateDays: 47, servers: [{ address: '203.0.113.21', name: 'berths-1' }] },
  { name: 'orrin-freight.example', certificateDays: 52, servers: [{ address: '203.0.113.40', name: 'freight-1' }] },
  { name: 'crew.orrinsound.example', certificateDays: 70, servers: [{ address: '203.0.113.50', name: 'crew-1' }] },
  { name: 'registry.example', certificateDays: 66, servers: [{ address: '192.0.2.70', name: 'registry-1' }] },
  { name: 'staging.orrinsound.example', certificateDays: 25, servers: [{ address: '192.0.2.10', name: 'staging-1' }] }
]

/** Hosts of other people that every location of the demo watches to know that its own line works. */
export const REFERENCES = ['192.0.2.101:443', '192.0.2.102:443']

/** The company's servers, which push their numbers: usual shares of processor, memory and disk in use. */
export const SERVER_HOSTS = [
  { name: 'quay', address: '198.51.100.61', cpu: 0.34, memory: 0.62, disk: 0.48 }, { name: 'pier', address: '198.51.100.62', cpu: 0.29, memory: 0.55, disk: 0.41 },
  { name: 'mole', address: '198.51.100.63', cpu: 0.18, memory: 0.71, disk: 0.78 }, { name: 'lock', address: '198.51.100.64', cpu: 0.41, memory: 0.44, disk: 0.22 },
  { name: 'buoy', address: '198.51.100.65', cpu: 0.12, memory: 0.38, disk: 0.35 }, { name: 'capstan', address: '198.51.100.66', cpu: 0.22, memory: 0.81, disk: 0.53 }
]

/** Machines that speak other protocols than HTTPS. */
export const MACHINES: { name: string; address: string }[] = [
  { name: 'mail.orrinsound.example', address: '203.0.113.60' },
  { name: 'files.orrin-freight.example', address: '203.0.113.41' },
  { name: 'hotline.orrin-freight.example', address: '203.0.113.42' },
  { name: 'sensors.orrinsound.example', address: '203.0.113.22' },
  { name: 'cameras.orrinsound.example', address: '203.0.113.23' },
  { name: 'clock.orrinsound.example', address: '203.0.113.24' },
  { name: 'beacon.orrinsound.example', address: '203.0.113.25' },
  { name: 'cache.orrinsound.example', address: '198.51.100.40' },
  { name: 'db.orrinsound.example', address: '198.51.100.41' },
  { name: 'engine.orrinsound.example', address: '203.0.113.51' },
  { name: 'queue.orrinsound.example', address: '198.51.100.42' },
  ...SERVER_HOSTS.map(({ name, address }) => ({ name: `${name}.orrinsound.example`, address })),
  { name: 'ns1.orrinsound.example', address: '192.0.2.61' },
  { name: 'ns2.orrinsound.example', address: '192.0.2.62' }
]
