/** The twelve locations of the demo world. `rtt` is the round trip to the ferry company's hosting, in milliseconds. */
export interface Place {
  key: string
  place: string
  country: string
  network: string
  networkType: 'transit' | 'access' | 'mobile' | 'hosting' | 'own'
  rtt: number
  jitter: number
  /** Kilobytes a millisecond that the line carries. */
  bandwidth: number
}

export const PLACES: Place[] = [
  { key: 'bergen', place: 'Bergen', country: 'NO', network: 'Nordvik Fibre', networkType: 'access', rtt: 11, jitter: 0.08, bandwidth: 12 },
  { key: 'aarhus', place: 'Aarhus', country: 'DK', network: 'Baltic Transit', networkType: 'transit', rtt: 17, jitter: 0.05, bandwidth: 40 },
  { key: 'gdansk', place: 'Gdańsk', country: 'PL', network: 'Amber Cable', networkType: 'access', rtt: 27, jitter: 0.1, bandwidth: 10 },
  { key: 'galway', place: 'Galway', country: 'IE', network: 'Atlantic Net', networkType: 'transit', rtt: 36, jitter: 0.05, bandwidth: 40 },
  { key: 'lisbon', place: 'Lisbon', country: 'PT', network: 'Tagus Mobile', networkType: 'mobile', rtt: 58, jitter: 0.2, bandwidth: 3 },
  { key: 'trieste', place: 'Trieste', country: 'IT', network: 'Adria Fibre', networkType: 'access', rtt: 41, jitter: 0.08, bandwidth: 12 },
  { key: 'montreal', place: 'Montréal', country: 'CA', network: 'Laurent Hosting', networkType: 'hosting', rtt: 88, jitter: 0.04, bandwidth: 60 },
  { key: 'valparaiso-pacifico', place: 'Valparaíso', country: 'CL', network: 'Pacífico Cable', networkType: 'access', rtt: 204, jitter: 0.06, bandwidth: 8 },
  { key: 'valparaiso-cordillera', place: 'Valparaíso, mobile', country: 'CL', network: 'Cordillera Mobile', networkType: 'mobile', rtt: 226, jitter: 0.18, bandwidth: 3 },
  { key: 'valparaiso-andes', place: 'Valparaíso, transit', country: 'CL', network: 'Andes Transit', networkType: 'transit', rtt: 192, jitter: 0.04, bandwidth: 40 },
  { key: 'valparaiso-austral', place: 'Valparaíso, hosting', country: 'CL', network: 'Austral Hosting', networkType: 'hosting', rtt: 188, jitter: 0.03, bandwidth: 60 },
  { key: 'orrin-harbour', place: 'Orrin harbour', country: 'NO', network: 'Harbour office', networkType: 'own', rtt: 6, jitter: 0.12, bandwidth: 6 }
]
