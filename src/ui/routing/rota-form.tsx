'use client'

import { Button, Modal, MultiSelect, Select, TextInput } from '@mantine/core'
import { useState, useTransition } from 'react'
import { addRouting } from '../../../app/actions/routing'

/** Makes a rota of one layer. */
export function RotaForm({ people, zone, today }: { people: { key: string; name: string }[]; zone: string; today: string }) {
  const [opened, setOpened] = useState(false)
  const [form, setForm] = useState({ name: '', people: [] as string[], every: 'week', from: today.slice(0, 10), at: '09:00', hours: '', zone })
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const put = (change: Partial<typeof form>) => setForm({ ...form, ...change })
  const save = () => start(async () => {
    const layer = { people: form.people, from: `${form.from}T${form.at}`, every: form.every, ...(form.hours.trim() === '' ? {} : { hours: form.hours.split(/\s+and\s+/) }) }
    const result = await addRouting('rota', { name: form.name.trim(), zone: form.zone, layers: [layer] })
    setError('error' in result ? result.error : undefined)
    if (!('error' in result)) setOpened(false)
  })
  return (
    <>
      <Button variant="default" onClick={() => setOpened(true)}>New rota</Button>
      <Modal opened={opened} onClose={() => setOpened(false)} title="New rota">
        <div style={{ display: 'grid', gap: 10 }}>
          <TextInput label="Name" placeholder="Platform on call" value={form.name} onChange={(event) => put({ name: event.currentTarget.value })} />
          <MultiSelect label="People, in the order of their turns" data={people.map((each) => ({ value: each.key, label: each.name }))} value={form.people} onChange={(value) => put({ people: value })} searchable />
          <Select label="Hands over every" data={['day', 'week']} value={form.every} allowDeselect={false} onChange={(value) => put({ every: value ?? 'week' })} />
          <TextInput type="date" label="First hand-over" value={form.from} onChange={(event) => put({ from: event.currentTarget.value })} />
          <TextInput type="time" label="At" value={form.at} onChange={(event) => put({ at: event.currentTarget.value })} />
          <TextInput label="Only in these hours" placeholder="always" value={form.hours} onChange={(event) => put({ hours: event.currentTarget.value })} description="mon-fri 08:00-18:00; leave it empty for always" />
          <TextInput label="Zone" value={form.zone} onChange={(event) => put({ zone: event.currentTarget.value })} />
          {error && <div className="notice trouble" role="alert">{error}</div>}
          <Button onClick={save} loading={busy}>Add</Button>
        </div>
      </Modal>
    </>
  )
}
