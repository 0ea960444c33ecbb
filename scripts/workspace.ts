import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import webpush from 'web-push'
import { openPool } from '../src/store/database'
import { addLocation, listLocations, plainLocation } from '../src/store/locations'
import { keepPartitions } from '../src/store/migrate'
import { addProbe } from '../src/store/probes'
import { readSettings, writeSettings } from '../src/store/settings'
import { outside } from '../src/core/places/places'
import { DAY } from '../src/core/units'

/** Prepares an empty workspace for real use: one location, this machine, with its probe. Gives the probe's token. */
export async function prepareWorkspace(url: string, tokenFile: string): Promise<string> {
  const pool = openPool(url, 2)
  try {
    const settings = await readSettings(pool)
    if (settings.push.publicKey === '') await writeSettings(pool, { push: webpush.generateVAPIDKeys(), zone: Intl.DateTimeFormat().resolvedOptions().timeZone })
    await keepPartitions(pool, Date.now(), { observation: 14 * DAY, evidence: 14 * DAY })
    if (existsSync(tokenFile)) return (JSON.parse(readFileSync(tokenFile, 'utf8')) as { token: string }).token
    const place = outside(await listLocations(pool))[0]?.id ?? await addLocation(pool, plainLocation({ key: 'here', place: 'Here', country: 'ZZ', network: 'This machine', networkType: 'own' }), 1)
    const token = await addProbe(pool, 'The probe beside the server', [place], Date.now())
    writeFileSync(tokenFile, JSON.stringify({ token }), { mode: 0o600 })
    return token
  } finally {
    await pool.end()
  }
}
