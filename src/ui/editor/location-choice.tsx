'use client'

import { Checkbox, MultiSelect, Popover, ScrollArea, SegmentedControl } from '@mantine/core'
import { useState } from 'react'
import { locationsOf, NETWORK_TYPES, type LocationChoice as Choice, type Placed } from '@/core/places/places'
import classes from '../sentence/sentence.module.css'

interface Props {
  text: string
  locations: (Placed & { place: string })[]
  chosen: Choice
  choose: (from: Choice) => void
  /** Where the present choice comes from when it is not the check's own, and how to give an own one back. */
  inherited?: string
  giveBack?: { text: string; act: () => void }
}

const wayOf = (chosen: Choice) => (chosen === 'all' ? 'all' : Array.isArray(chosen) ? 'named' : 'fitting')

/** The “from where” part: all locations, some by name, or all that fit a network or a country. */
export function LocationChoice({ text, locations, chosen, choose, inherited, giveBack }: Props) {
  const [opened, setOpened] = useState(false)
  const way = wayOf(chosen)
  const turn = (next: string) => {
    const present = locationsOf(chosen, locations)
    if (next === 'all') choose('all')
    else if (next === 'named') choose((present.length > 0 ? present : locations).map((location) => location.key))
    else choose({ networks: [locations[0]!.networkType] })
  }
  return (
    <Popover opened={opened} onChange={setOpened} position="bottom-start" width={360} trapFocus returnFocus>
      <Popover.Target><button type="button" className={inherited ? `${classes.part} ${classes.inherited}` : classes.part} title={inherited} data-part="from" aria-label={`from where: ${text}${inherited ? `, ${inherited}` : ''}`} onClick={() => setOpened(true)}>{text}</button></Popover.Target>
      <Popover.Dropdown p={10}>
        <SegmentedControl size="xs" fullWidth value={way} onChange={turn} data={[{ value: 'all', label: 'everywhere' }, { value: 'named', label: 'by name' }, { value: 'fitting', label: 'by network, country' }]} mb={8} data-autofocus />
        {way === 'all' && <div className="quiet small">All {locations.length}, also those added later.</div>}
        {Array.isArray(chosen) && <Named locations={locations} chosen={chosen} choose={choose} />}
        {chosen !== 'all' && !Array.isArray(chosen) && <Fitting locations={locations} chosen={chosen} choose={choose} />}
        {giveBack && <button type="button" className={classes.offer} style={{ width: '100%', marginTop: 6 }} onClick={() => { giveBack.act(); setOpened(false) }}>{giveBack.text}</button>}
      </Popover.Dropdown>
    </Popover>
  )
}

function Named({ locations, chosen, choose }: { locations: Props['locations']; chosen: string[]; choose: (from: Choice) => void }) {
  const toggle = (key: string) => {
    const next = chosen.includes(key) ? chosen.filter((each) => each !== key) : [...chosen, key]
    if (next.length > 0) choose(next)
  }
  return (
    <ScrollArea.Autosize mah={280}>
      {locations.map((location) => <Checkbox key={location.key} size="xs" my={6} checked={chosen.includes(location.key)} onChange={() => toggle(location.key)} label={<>{location.place} <span className="quiet">{location.network}</span></>} />)}
    </ScrollArea.Autosize>
  )
}

function Fitting({ locations, chosen, choose }: { locations: Props['locations']; chosen: Exclude<Choice, 'all' | string[]>; choose: (from: Choice) => void }) {
  const unique = (values: string[]) => [...new Set(values)].sort((a, b) => a.localeCompare(b))
  const set = (changes: { networks?: string[]; countries?: string[] }) => {
    const next = Object.fromEntries(Object.entries({ ...chosen, ...changes }).filter(([, list]) => list.length > 0))
    if (Object.keys(next).length > 0) choose(next)
  }
  const types = unique(locations.map((location) => location.networkType)).filter((type) => (NETWORK_TYPES as readonly string[]).includes(type))
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <MultiSelect size="xs" label="Networks" searchable comboboxProps={{ withinPortal: false }} value={chosen.networks ?? []} onChange={(networks) => set({ networks })}
        data={[{ group: 'types', items: types.map((type) => ({ value: type, label: `any ${type} network` })) }, { group: 'providers', items: unique(locations.map((location) => location.network)) }]} />
      <MultiSelect size="xs" label="Countries" searchable comboboxProps={{ withinPortal: false }} value={chosen.countries ?? []} onChange={(countries) => set({ countries })} data={unique(locations.map((location) => location.country))} />
      <div className="quiet small" role="status">{locationsOf(chosen, locations).map((location) => location.place).join(', ') || 'No location fits.'}</div>
    </div>
  )
}
