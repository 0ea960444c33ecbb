'use client'

import { Button, Modal, MultiSelect, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useState, useTransition } from 'react'
import { saveBoard, takeBoardAway } from '../../../app/actions/findings'

interface Named { key: string; name: string }

/** Makes a board of chosen checks and locations, or changes one; its link can be given to a wall or to somebody outside. */
export function BoardForm({ checks, locations, board }: { checks: Named[]; locations: Named[]; board?: { id: number; name: string; checks: string[]; locations: string[] } }) {
  const [opened, setOpened] = useState(false)
  const [form, setForm] = useState(board ?? { name: '', checks: [] as string[], locations: [] as string[] })
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const save = () => start(async () => {
    const result = await saveBoard(form)
    setError('error' in result ? result.error : undefined)
    if ('value' in result) setOpened(false)
  })
  const data = (all: Named[]) => all.map((each) => ({ value: each.key, label: each.name }))
  return (
    <>
      {board ? <Button variant="subtle" size="compact-sm" aria-label={`Change the board ${board.name}`} onClick={() => setOpened(true)}>Change</Button> : <Button variant="default" onClick={() => setOpened(true)}>New board</Button>}
      <Modal opened={opened} onClose={() => setOpened(false)} title={board ? `Board ${board.name}` : 'New board'}>
        <div style={{ display: 'grid', gap: 10 }}>
          <TextInput label="Name" placeholder="Operations room" value={form.name} onChange={(event) => setForm({ ...form, name: event.currentTarget.value })} />
          <MultiSelect label="Checks" placeholder={form.checks.length === 0 ? 'all' : ''} data={data(checks)} value={form.checks} onChange={(value) => setForm({ ...form, checks: value })} searchable limit={40} />
          <MultiSelect label="Locations" placeholder={form.locations.length === 0 ? 'all' : ''} data={data(locations)} value={form.locations} onChange={(value) => setForm({ ...form, locations: value })} searchable />
          <div className="quiet small">Whoever has its link can see it, without signing in. Taking it away ends that.</div>
          {error && <div className="notice trouble" role="alert">{error}</div>}
          <Button onClick={save} loading={busy}>{board ? 'Save' : 'Make it'}</Button>
        </div>
      </Modal>
    </>
  )
}

export function RemoveBoard({ id, name }: { id: number; name: string }) {
  const [busy, start] = useTransition()
  return <Button variant="subtle" size="compact-sm" loading={busy} aria-label={`Take the board ${name} away`} onClick={() => start(async () => { const result = await takeBoardAway(id); if ('error' in result) notifications.show({ message: result.error, color: 'red' }) })}>Take away</Button>
}
