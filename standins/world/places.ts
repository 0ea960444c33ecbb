/** The twelve locations of the demo world. `rtt` is the round trip to the ferry company's hosting, in milliseconds. */
export interface Place {
  key: string
  place: string
  country: string
  network: string
  networkType: 'transit' | 'access' | 'mobile' | 'hosting' | 'own'
  latitude: number
  longitude: number
  rtt: number
  /** The resolver of its network. */
  resolver: string
  jitter: number
  /** Kilobytes a millisecond that the line carries. */
  bandwidth: number
}

export const PLACES: Place[] = [
  { key: 'bergen', place: 'Bergen', country: 'NO', network: 'Nordvik Fibre', networkType: 'access', latitude: 60.39, longitude: 5.32, rtt: 11, resolver: '192.0.2.141', jitter: 0.08, bandwidth: 12 },
  { key: 'aarhus', place: 'Aarhus', country: 'DK', network: 'Baltic Transit', networkType: 'transit', latitude: 56.16, longitude: 10.2, rtt: 17, resolver: '192.0.2.142', jitter: 0.05, bandwidth: 40 },
  { key: 'gdansk', place: 'Gdańsk', country: 'PL', network: 'Amber Cable', networkType: 'access', latitude: 54.35, longitude: 18.65, rtt: 27, resolver: '192.0.2.143', jitter: 0.1, bandwidth: 10 },
  { key: 'galway', place: 'Galway', country: 'IE', network: 'Atlantic Net', networkType: 'transit', latitude: 53.27, longitude: -9.05, rtt: 36, resolver: '192.0.2.144', jitter: 0.05, bandwidth: 40 },
  { key: 'lisbon', place: 'Lisbon', country: 'PT', network: 'Tagus Mobile', networkType: 'mobile', latitude: 38.72, longitude: -9.14, rtt: 58, resolver: '192.0.2.145', jitter: 0.2, bandwidth: 3 },
  { key: 'trieste', place: 'Trieste', country: 'IT', network: 'Adria Fibre', networkType: 'access', latitude: 45.65, longitude: 13.77, rtt: 41, resolver: '192.0.2.146', jitter: 0.08, bandwidth: 12 },
  { key: 'montreal', place: 'Montréal', country: 'CA', network: 'Laurent Hosting', networkType: 'hosting', latitude: 45.5, longitude: -73.57, rtt: 88, resolver: '192.0.2.147', jitter: 0.04, bandwidth: 60 },
  { key: 'valparaiso-pacifico', place: 'Valparaíso', country: 'CL', network: 'Pacífico Cable', networkType: 'access', latitude: -33.05, longitude: -71.62, rtt: 204, resolver: '192.0.2.148', jitter: 0.06, bandwidth: 8 },
  { key: 'valparaiso-cordillera', place: 'Valparaíso, mobile', country: 'CL', network: 'Cordillera Mobile', networkType: 'mobile', latitude: -33.05, longitude: -71.62, rtt: 226, resolver: '192.0.2.149', jitter: 0.18, bandwidth: 3 },
  { key: 'valparaiso-andes', place: 'Valparaíso, transit', country: 'CL', network: 'Andes Transit', networkType: 'transit', latitude: -33.05, longitude: -71.62, rtt: 192, resolver: '192.0.2.150', jitter: 0.04, bandwidth: 40 },
  { key: 'valparaiso-austral', place: 'Valparaíso, hosting', country: 'CL', network: 'Austral Hosting', networkType: 'hosting', latitude: -33.05, longitude: -71.62, rtt: 188, resolver: '192.0.2.151', jitter: 0.03, bandwidth: 60 },
  { key: 'orrin-harbour', place: 'Orrin harbour', country: 'NO', network: 'Harbour office', networkType: 'own', latitude: 59.9, longitude: -1.3, rtt: 6, resolver: '192.0.2.152', jitter: 0.12, bandwidth: 6 }
]
