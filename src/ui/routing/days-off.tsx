'use client'

import { Button, Popover, TextInput } from '@mantine/core'
import { useState, useTransition } from 'react'
import type { DaysOff } from '@/core/routing/reach'
import { saveDaysOff } from '../../../app/actions/routing'

/** Says on which days a person is away. */
export function DaysOffForm({ person, name, off, today }: { person: string; name: string; off: DaysOff[]; today: string }) {
  const [opened, setOpened] = useState(false)
  const [from, setFrom] = useState(today)
  const [to, setTo] = useState(today)
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const save = (next: DaysOff[]) => start(async () => {
    const result = await saveDaysOff(person, next)
    setError('error' in result ? result.error : undefined)
    if (!('error' in result)) setOpened(false)
  })
  return (
    <Popover opened={opened} onChange={setOpened} position="bottom-end" trapFocus width={280}>
      <Popover.Target><Button variant="subtle" size="compact-sm" aria-label={`Days off of ${name}`} onClick={() => setOpened(!opened)}>Days off</Button></Popover.Target>
      <Popover.Dropdown>
        <div style={{ display: 'grid', gap: 8 }}>
          {off.map((each) => <div key={each.from} className="apart small"><span>{each.from} to {each.to}</span><Button variant="subtle" size="compact-sm" aria-label={`Take away ${each.from}`} onClick={() => save(off.filter((other) => other !== each))}>Take away</Button></div>)}
          <TextInput type="date" label="First day away" value={from} onChange={(event) => setFrom(event.currentTarget.value)} />
          <TextInput type="date" label="Last day away" value={to} onChange={(event) => setTo(event.currentTarget.value)} />
          {error && <div className="notice trouble small" role="alert">{error}</div>}
          <Button loading={busy} onClick={() => save([...off, { from, to }].sort((a, b) => a.from.localeCompare(b.from)))}>Add</Button>
        </div>
      </Popover.Dropdown>
    </Popover>
  )
}
