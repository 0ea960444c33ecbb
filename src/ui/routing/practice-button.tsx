'use client'

import { Button, Popover, Select } from '@mantine/core'
import { useRouter } from 'next/navigation'
import { useState, useTransition } from 'react'
import { practise } from '../../../app/actions/incidents'

/** Sends a made-up failure of a check the whole way through real channels. */
export function PracticeButton({ check, state }: { check: string; state: 'down' | 'slow' }) {
  const [lasts, setLasts] = useState('10m')
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const router = useRouter()
  return (
    <Popover position="bottom-start" width={300} trapFocus>
      <Popover.Target><Button variant="default">Practise it for real…</Button></Popover.Target>
      <Popover.Dropdown><div style={{ display: 'grid', gap: 8 }}>
        <span className="small">People are really told, now, through their real channels. Every message says that it is practice, and it counts in no statistics.</span>
        <Select label="It lasts" comboboxProps={{ withinPortal: false }} data={[{ value: '5m', label: '5 min' }, { value: '10m', label: '10 min' }, { value: '30m', label: '30 min' }, { value: '1h', label: '1 h' }]} value={lasts} allowDeselect={false} onChange={(value) => setLasts(value ?? '10m')} />
        {error && <div className="notice trouble small" role="alert">{error}</div>}
        <Button loading={busy} onClick={() => start(async () => {
          const result = await practise(check, state, lasts)
          if ('error' in result) setError(result.error)
          else router.push(`/incidents/${result.value}`)
        })}>Begin the practice</Button>
      </div></Popover.Dropdown>
    </Popover>
  )
}
