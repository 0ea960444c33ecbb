'use server'

import { revalidatePath } from 'next/cache'
import { keyFromName } from '@/core/definitions/key'
import { NETWORK_TYPES } from '@/core/places/places'
import { HemeronError, type Problem } from '@/core/problems'
import { isRange } from '@/kinds/address-guard'
import { isProxy } from '@/probe/links/proxied-link'
import { database } from '@/store/database'
import { addLocation, bumpDefinitions, changeLocation, listLocations, type LocationFacts } from '@/store/locations'
import { audit } from '@/store/people'
import { outside } from '@/core/places/places'
import { addProbe } from '@/store/probes'
import { signedInAs } from '../server/session'
import { attempt, type Result } from './result'

/** What the form says of a location. */
export type PlaceForm = Omit<LocationFacts, 'key'>

function problemsOf(form: PlaceForm): Problem[] {
  const wrong = (path: string, found: unknown, expected: string): Problem => ({ path, found: `"${String(found).slice(0, 80)}"`, expected })
  const within = (value: number | null, most: number) => value === null || (Number.isFinite(value) && Math.abs(value) <= most)
  return [
    ...(form.place.trim() === '' || form.place.length > 100 ? [wrong('place', form.place, 'the name of a place')] : []),
    ...(/^[A-Z]{2}$/.test(form.country) ? [] : [wrong('country', form.country, 'a country code of two letters (ISO 3166)')]),
    ...(form.network.trim() === '' || form.network.length > 100 ? [wrong('network', form.network, 'the network it sits on')] : []),
    ...(NETWORK_TYPES.includes(form.networkType) ? [] : [wrong('networkType', form.networkType, NETWORK_TYPES.join(', '))]),
    ...(within(form.latitude, 90) && within(form.longitude, 180) && (form.latitude === null) === (form.longitude === null) ? [] : [wrong('place on the map', `${form.latitude}, ${form.longitude}`, 'degrees of latitude and longitude')]),
    ...form.ranges.filter((range) => !isRange(range)).map((range) => wrong('ranges', range, 'an address range such as 192.0.2.0/24')),
    ...form.references.filter((reference) => !/^\[?[^\s/]+\]?:\d{1,5}$/.test(reference)).map((reference) => wrong('references', reference, 'a host with a port such as 192.0.2.1:443')),
    ...(form.proxy && !isProxy(form.proxy) ? [wrong('proxy', form.proxy.replace(/:[^:@/]*@/, ':…@'), 'an address such as http://proxy.example:3128 or socks5://proxy.example:1080')] : [])
  ]
}

/** Adds a location with a probe of its own. Gives the token by which that joins; it is not shown again. */
export async function makeLocation(form: PlaceForm): Promise<Result<string>> {
  return attempt(async () => {
    const person = await signedInAs('owner')
    const problems = problemsOf(form)
    if (problems.length > 0) throw new HemeronError('bad-document', undefined, problems)
    const key = keyFromName(form.place, 'location')
    const locations = outside(await listLocations(database()))
    if (locations.some((location) => location.key === key)) throw new HemeronError('duplicate-key', `There is a location ${key} already; name this one after its network too.`)
    const now = Date.now()
    const id = await addLocation(database(), { ...form, key, place: form.place.trim(), network: form.network.trim() }, locations.length)
    const token = await addProbe(database(), `Probe at ${form.place.trim()}`, [id], now)
    await bumpDefinitions(database())
    await audit(database(), person.id, 'location added', key, undefined, { ...form, proxy: form.proxy ? 'set' : null }, now)
    revalidatePath('/', 'layout')
    return token
  })
}

/** Changes what is said of a location. A proxy that is left out stays as it is. */
export async function saveLocation(key: string, form: PlaceForm): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('owner')
    const problems = problemsOf(form)
    if (problems.length > 0) throw new HemeronError('bad-document', undefined, problems)
    if (!outside(await listLocations(database())).some((location) => location.key === key)) throw new HemeronError('not-found', `There is no location ${key}.`)
    await changeLocation(database(), { ...form, key })
    await bumpDefinitions(database())
    await audit(database(), person.id, 'location changed', key, undefined, { ...form, proxy: form.proxy ? 'set' : form.proxy }, Date.now())
    revalidatePath('/', 'layout')
    return undefined
  })
}

/** Adds one more probe at a location; the probes there share its checks. Gives its token. */
export async function makeProbe(key: string): Promise<Result<string>> {
  return attempt(async () => {
    const person = await signedInAs('owner')
    const location = outside(await listLocations(database())).find((each) => each.key === key)
    if (!location) throw new HemeronError('not-found', `There is no location ${key}.`)
    const token = await addProbe(database(), `Another probe at ${location.place}`, [location.id], Date.now())
    await audit(database(), person.id, 'probe added', key, undefined, undefined, Date.now())
    revalidatePath('/', 'layout')
    return token
  })
}
