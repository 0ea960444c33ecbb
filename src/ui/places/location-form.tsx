'use client'

import { Button, Checkbox, CopyButton, NumberInput, Select, TagsInput, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useState, useTransition } from 'react'
import { NETWORK_TYPES, type NetworkType } from '@/core/places/places'
import { makeLocation, makeProbe, saveLocation, type PlaceForm } from '../../../app/actions/locations'
import { WorldMap } from './world-map'

export const BLANK: PlaceForm = { place: '', country: '', network: '', networkType: 'own', allowsInternal: false, latitude: null, longitude: null, ranges: [], references: [], proxy: null }

/** Where a location is, on what network, and what it may ask. With a key it is changed, without one it is added. */
export function LocationForm({ first, locationKey, url, land }: { first: PlaceForm; locationKey?: string; url: string; land: string }) {
  const [form, setForm] = useState(first)
  const [proxyTouched, setProxyTouched] = useState(false)
  const [token, setToken] = useState<string>()
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const set = (changes: Partial<PlaceForm>) => setForm({ ...form, ...changes })
  const save = () => start(async () => {
    setError(undefined)
    const { proxy, ...facts } = form
    const given = { ...facts, country: facts.country.toUpperCase(), ...(proxyTouched || locationKey === undefined ? { proxy: proxy || null } : {}) }
    if (locationKey !== undefined) {
      const saved = await saveLocation(locationKey, given)
      if ('error' in saved) setError(saved.error)
      else notifications.show({ message: `${form.place} is saved.` })
      return
    }
    const made = await makeLocation(given)
    if ('error' in made) setError(made.error)
    else setToken(made.value)
  })
  const another = () => start(async () => {
    const made = await makeProbe(locationKey!)
    if ('error' in made) setError(made.error)
    else setToken(made.value)
  })
  const dots = form.latitude === null || form.longitude === null ? [] : [{ key: 'here', name: form.place || 'here', latitude: form.latitude, longitude: form.longitude, trouble: false, chosen: true }]
  return (
    <div className="card pad halves" style={{ gap: 16 }}>
      <div style={{ display: 'grid', gap: 8 }}>
        <div className="row" style={{ alignItems: 'flex-end' }}>
          <TextInput size="xs" style={{ flex: 1 }} label="Place" value={form.place} onChange={(event) => set({ place: event.currentTarget.value })} />
          <TextInput size="xs" w={80} label="Country" placeholder="NO" maxLength={2} value={form.country} onChange={(event) => set({ country: event.currentTarget.value.toUpperCase() })} />
        </div>
        <div className="row" style={{ alignItems: 'flex-end' }}>
          <TextInput size="xs" style={{ flex: 1 }} label="Network" placeholder="who provides it" value={form.network} onChange={(event) => set({ network: event.currentTarget.value })} />
          <Select size="xs" w={110} label="Its type" data={[...NETWORK_TYPES]} value={form.networkType} allowDeselect={false} onChange={(value) => set({ networkType: value as NetworkType })} />
        </div>
        <TagsInput size="xs" label="Reference targets" description="while none of them answers, the location has lost its own line and its failures count for nothing" placeholder="192.0.2.1:443" value={form.references} onChange={(references) => set({ references })} />
        <TagsInput size="xs" label="Address ranges it may ask" description="every public address when there are none" placeholder="10.20.0.0/16" value={form.ranges} onChange={(ranges) => set({ ranges })} />
        <TextInput size="xs" label="Outbound proxy" description="http:// or socks5://; its password is not shown again" placeholder="socks5://proxy.example:1080" value={form.proxy ?? ''} onChange={(event) => { setProxyTouched(true); set({ proxy: event.currentTarget.value }) }} />
        <Checkbox size="xs" label="May ask link-local and metadata addresses" checked={form.allowsInternal} onChange={(event) => set({ allowsInternal: event.currentTarget.checked })} />
        {error && <div className="notice trouble" role="alert">{error}</div>}
        <div className="row"><Button onClick={save} loading={busy}>{locationKey === undefined ? 'Add the location' : 'Save'}</Button>{locationKey !== undefined && <Button variant="default" onClick={another} loading={busy}>Join another probe</Button>}</div>
        {token && (
          <div className="notice" role="status"><div className="small">On the machine there, in a copy of Hemeron. The token is not shown again.</div>
            <code style={{ overflowWrap: 'anywhere' }}>npm run probe -- --url {url} --token {token}</code> <CopyButton value={`npm run probe -- --url ${url} --token ${token}`}>{({ copied, copy }) => <Button variant="subtle" onClick={copy}>{copied ? 'Copied' : 'Copy'}</Button>}</CopyButton></div>
        )}
      </div>
      <div>
        <WorldMap land={land} dots={dots} pick={(latitude, longitude) => set({ latitude, longitude })} />
        <div className="row" style={{ marginTop: 6 }}>
          <NumberInput size="xs" w={110} label="Latitude" decimalScale={4} value={form.latitude ?? ''} onChange={(value) => set({ latitude: value === '' ? null : Number(value) })} />
          <NumberInput size="xs" w={110} label="Longitude" decimalScale={4} value={form.longitude ?? ''} onChange={(value) => set({ longitude: value === '' ? null : Number(value) })} />
          <span className="quiet small">or press on the map</span>
        </div>
      </div>
    </div>
  )
}
