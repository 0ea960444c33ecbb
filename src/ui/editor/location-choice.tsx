'use client'

import { Checkbox, Popover, ScrollArea } from '@mantine/core'
import { useState } from 'react'
import classes from '../sentence/sentence.module.css'

/** The “from where” part: all locations, or some of them. */
export function LocationChoice({ text, locations, chosen, choose }: { text: string; locations: { key: string; place: string; network: string }[]; chosen: 'all' | string[]; choose: (from: 'all' | string[]) => void }) {
  const [opened, setOpened] = useState(false)
  const keys = chosen === 'all' ? locations.map((location) => location.key) : chosen
  const toggle = (key: string) => {
    const next = keys.includes(key) ? keys.filter((each) => each !== key) : [...keys, key]
    if (next.length > 0) choose(next.length === locations.length ? 'all' : next)
  }
  return (
    <Popover opened={opened} onChange={setOpened} position="bottom-start" width={320} trapFocus returnFocus>
      <Popover.Target><button type="button" className={classes.part} data-part="from" aria-label={`from where: ${text}`} onClick={() => setOpened(true)}>{text}</button></Popover.Target>
      <Popover.Dropdown p={10}>
        <Checkbox label="All locations, also those added later" checked={chosen === 'all'} onChange={() => choose(chosen === 'all' ? [locations[0]!.key] : 'all')} mb={8} data-autofocus />
        <ScrollArea.Autosize mah={280}>
          {locations.map((location) => <Checkbox key={location.key} size="xs" my={6} checked={keys.includes(location.key)} onChange={() => toggle(location.key)} label={<>{location.place} <span className="quiet">{location.network}</span></>} />)}
        </ScrollArea.Autosize>
      </Popover.Dropdown>
    </Popover>
  )
}
