'use client'

import { Button, Popover, Select, TextInput } from '@mantine/core'
import { useState, useTransition } from 'react'
import { HOUR, MINUTE } from '@/core/units'

const LENGTHS = [
  { value: '0', label: 'until somebody ends it' }, { value: String(30 * MINUTE), label: 'for 30 min' }, { value: String(HOUR), label: 'for an hour' },
  { value: String(4 * HOUR), label: 'for 4 h' }, { value: String(12 * HOUR), label: 'for 12 h' }, { value: String(48 * HOUR), label: 'for 2 days' }
]

/** Asks how long and why before something is paused or muted. */
export function HaltForm({ name, explains, act, disabled = false }: { name: 'Pause' | 'Mute'; explains: string; act: (wish: { until?: number; reason?: string }) => Promise<void>; disabled?: boolean }) {
  const [opened, setOpened] = useState(false)
  const [length, setLength] = useState('0')
  const [reason, setReason] = useState('')
  const [busy, start] = useTransition()
  const go = () => start(async () => {
    await act({ ...(length === '0' ? {} : { until: Date.now() + Number(length) }), ...(reason.trim() === '' ? {} : { reason: reason.trim() }) })
    setOpened(false)
  })
  return (
    <Popover opened={opened} onChange={setOpened} position="bottom-end" width={280} trapFocus returnFocus>
      <Popover.Target><Button variant="default" disabled={disabled} onClick={() => setOpened(!opened)}>{name}</Button></Popover.Target>
      <Popover.Dropdown p={12}>
        <div className="small quiet" style={{ marginBottom: 8 }}>{explains}</div>
        <Select size="xs" label="How long" data={LENGTHS} value={length} allowDeselect={false} onChange={(value) => setLength(value ?? '0')} comboboxProps={{ withinPortal: false }} />
        <TextInput size="xs" label="Why" mt={8} value={reason} maxLength={300} data-autofocus onChange={(event) => setReason(event.currentTarget.value)} onKeyDown={(event) => { if (event.key === 'Enter') go() }} />
        <Button mt={10} loading={busy} onClick={go}>{name}</Button>
      </Popover.Dropdown>
    </Popover>
  )
}
