'use client'

import { MultiSelect, Popover } from '@mantine/core'
import { useState } from 'react'
import classes from '../sentence/sentence.module.css'

/** The “which checks” part of a check that judges others: found by name, in the order in which they were chosen. */
export function MembersChoice({ checks, chosen, choose, opened: atFirst }: { checks: { key: string; name: string }[]; chosen: string[]; choose: (keys: string[]) => void; opened: boolean }) {
  const [opened, setOpened] = useState(atFirst)
  const names = chosen.map((key) => checks.find((each) => each.key === key)?.name ?? key)
  return (
    <Popover opened={opened} onChange={setOpened} position="bottom-start" width={420} trapFocus returnFocus>
      <Popover.Target><button type="button" className={classes.part} data-part="members" aria-label={`the checks: ${names.join(', ') || 'none yet'}`} onClick={() => setOpened(true)}>{names.join(', ') || '…'}</button></Popover.Target>
      <Popover.Dropdown p={10}>
        <MultiSelect size="xs" data-autofocus aria-label="Checks" placeholder="Find a check" searchable clearable maxDropdownHeight={260} value={chosen} data={checks.map((each) => ({ value: each.key, label: each.name }))} onChange={choose} comboboxProps={{ withinPortal: false }} />
      </Popover.Dropdown>
    </Popover>
  )
}
