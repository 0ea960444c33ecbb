'use client'

import { Button, Popover, Select, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useState, useTransition } from 'react'
import { DAY } from '@/core/units'
import { usePickedDay } from './stand-in'
import type { Cover, RotaDocument } from '@/core/rotas/rota'
import { removeRouting, saveRouting } from '../../../app/actions/routing'

/** The same clock time on the next day. */
const dayAfter = (local: string) => new Date(Date.parse(`${local.slice(0, 16)}Z`) + DAY).toISOString().slice(0, 16)

/** Lets somebody stand in for a while, and takes a rota away. */
export function RotaTools({ document, version, people, today }: { document: RotaDocument; version: number; people: { key: string; name: string }[]; today: string }) {
  const [asked, setAsked] = useState(false)
  const { day, pick } = usePickedDay()
  const opened = asked || day !== undefined
  const [typed, setForm] = useState<Partial<Cover>>({})
  const begin = day ?? today
  const form: Cover = { from: begin, to: dayAfter(begin), person: people[0]?.key ?? '', ...typed }
  const setOpened = (open: boolean) => {
    setAsked(open)
    setForm({})
    if (!open) pick(undefined)
  }
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const cover = (document.cover ?? []) as Cover[]
  const save = (next: Cover[]) => start(async () => {
    const result = await saveRouting('rota', document.rota, { ...document, cover: next }, version)
    setError('error' in result ? result.error : undefined)
    if (!('error' in result)) setOpened(false)
  })
  return (
    <span className="row" style={{ gap: 4 }}>
      <Popover opened={opened} onChange={setOpened} position="bottom-end" trapFocus width={300}>
        <Popover.Target><Button variant="default" aria-label={`Stand in for ${document.name}`} onClick={() => setOpened(!opened)}>Stand in</Button></Popover.Target>
        <Popover.Dropdown>
          <div style={{ display: 'grid', gap: 8 }}>
            {cover.filter((each) => each.to >= today).map((each) => <div key={`${each.from}/${each.person}`} className="apart small"><span>{people.find((person) => person.key === each.person)?.name}, {each.from.replace('T', ' ')} to {each.to.replace('T', ' ')}</span><Button variant="subtle" size="compact-sm" onClick={() => save(cover.filter((other) => other !== each))}>Take away</Button></div>)}
            <Select label="Who" data={people.map((each) => ({ value: each.key, label: each.name }))} value={form.person} allowDeselect={false} comboboxProps={{ withinPortal: false }} onChange={(value) => setForm({ ...typed, person: value ?? '' })} />
            <TextInput type="datetime-local" label="From" value={form.from} onChange={(event) => setForm({ ...typed, from: event.currentTarget.value })} />
            <TextInput type="datetime-local" label="To" value={form.to} onChange={(event) => setForm({ ...typed, to: event.currentTarget.value })} />
            {error && <div className="notice trouble small" role="alert">{error}</div>}
            <Button loading={busy} onClick={() => save([...cover, form])}>Stand in</Button>
          </div>
        </Popover.Dropdown>
      </Popover>
      <Button variant="subtle" aria-label={`Remove ${document.name}`} onClick={() => start(async () => {
        const result = await removeRouting('rota', document.rota)
        if ('error' in result) notifications.show({ message: result.error, color: 'red' })
      })}>Remove</Button>
    </span>
  )
}
