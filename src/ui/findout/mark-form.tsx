'use client'

import { Button, Modal, Select, Textarea, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useState, useTransition } from 'react'
import { MARK_KINDS } from '@/core/marks/mark'
import { fromLocal, readLocal } from '@/core/time/zoned'
import { setMark, takeMarkAway } from '../../../app/actions/findings'
import { useZone } from '../marks/zone'

/** Sets a mark at a point in time: a release, a change, a note. */
export function MarkForm({ services, now }: { services: { key: string; name: string }[]; now: string }) {
  const zone = useZone()
  const [opened, setOpened] = useState(false)
  const [form, setForm] = useState({ title: '', kind: 'release', detail: '', at: now, service: '' })
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const put = (change: Partial<typeof form>) => setForm({ ...form, ...change })
  const save = () => start(async () => {
    const local = readLocal(form.at)
    const result = await setMark({ ...form, at: local === undefined ? form.at : new Date(fromLocal(local, zone)).toISOString() })
    setError('error' in result ? result.error : undefined)
    if ('value' in result) {
      setOpened(false)
      put({ title: '', detail: '' })
    }
  })
  return (
    <>
      <Button onClick={() => setOpened(true)}>Set a mark</Button>
      <Modal opened={opened} onClose={() => setOpened(false)} title="Set a mark">
        <div style={{ display: 'grid', gap: 10 }}>
          <TextInput label="What changed" placeholder="Release 4.19" value={form.title} onChange={(event) => put({ title: event.currentTarget.value })} />
          <Select label="Kind" data={[...MARK_KINDS]} value={form.kind} allowDeselect={false} onChange={(value) => put({ kind: value ?? 'note' })} />
          <TextInput type="datetime-local" label="When" value={form.at} onChange={(event) => put({ at: event.currentTarget.value })} />
          <Select label="Of which service" placeholder="everything" data={services.map((each) => ({ value: each.key, label: each.name }))} value={form.service || null} clearable onChange={(value) => put({ service: value ?? '' })} />
          <Textarea label="More about it" value={form.detail} autosize minRows={2} onChange={(event) => put({ detail: event.currentTarget.value })} />
          {error && <div className="notice trouble" role="alert">{error}</div>}
          <Button onClick={save} loading={busy}>Set it</Button>
        </div>
      </Modal>
    </>
  )
}

export function RemoveMark({ id, title }: { id: number; title: string }) {
  const [busy, start] = useTransition()
  return <Button variant="subtle" size="compact-sm" loading={busy} aria-label={`Take ${title} away`} onClick={() => start(async () => { const result = await takeMarkAway(id); if ('error' in result) notifications.show({ message: result.error, color: 'red' }) })}>Take away</Button>
}
