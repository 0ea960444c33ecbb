'use client'

import { Button, Modal, MultiSelect, Select, TextInput } from '@mantine/core'
import { useState, useTransition } from 'react'
import type { RotaDocument } from '@/core/rotas/rota'
import { addRouting, saveRouting } from '../../../app/actions/routing'

const OWN = 'by a rule of its own'
interface LayerDraft { people: string[]; from: string; at: string; every: string; rule: string; hours: string }
type WrittenLayer = { people: string[]; from: string; every: string; hours?: string | string[] }

const drafted = ({ people, from, every, hours }: WrittenLayer): LayerDraft => ({ people, from: from.slice(0, 10), at: from.slice(11, 16), every: every === 'day' || every === 'week' ? every : OWN, rule: every === 'day' || every === 'week' ? '' : every, hours: [hours ?? []].flat().join(' and ') })
const written = ({ people, from, at, every, rule, hours }: LayerDraft): WrittenLayer => ({ people, from: `${from}T${at}`, every: every === OWN ? rule.trim().replace(/^RRULE:/i, '') : every, ...(hours.trim() === '' ? {} : { hours: hours.split(/\s+and\s+/) }) })

/** Makes a rota, or changes one: layers of people who take turns, asked from the top. */
export function RotaForm({ people, zone, today, rota, version = 0 }: { people: { key: string; name: string }[]; zone: string; today: string; rota?: RotaDocument; version?: number }) {
  const blank: LayerDraft = { people: [], from: today.slice(0, 10), at: '09:00', every: 'week', rule: '', hours: '' }
  const [opened, setOpened] = useState(false)
  const [form, setForm] = useState({ name: rota?.name ?? '', zone: String(rota?.zone ?? zone) })
  const [layers, setLayers] = useState<LayerDraft[]>(rota ? (rota.layers as WrittenLayer[]).map(drafted) : [blank])
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const put = (place: number, change: Partial<LayerDraft>) => setLayers(layers.map((each, index) => (index === place ? { ...each, ...change } : each)))
  const save = () => start(async () => {
    const document = { ...(rota ?? {}), name: form.name.trim(), zone: form.zone, layers: layers.map(written) }
    const result = rota ? await saveRouting('rota', rota.rota, document as RotaDocument, version) : await addRouting('rota', document)
    setError('error' in result ? result.error : undefined)
    if (!('error' in result)) setOpened(false)
  })
  const several = layers.length > 1
  return (
    <>
      <Button variant={rota ? 'subtle' : 'default'} {...(rota ? { size: 'compact-sm' as const } : {})} aria-label={rota ? `Change ${rota.name}` : 'New rota'} onClick={() => setOpened(true)}>{rota ? 'Change' : 'New rota'}</Button>
      <Modal opened={opened} onClose={() => setOpened(false)} title={rota?.name ?? 'New rota'}>
        <div style={{ display: 'grid', gap: 10 }}>
          <TextInput label="Name" placeholder="Platform on call" value={form.name} onChange={(event) => setForm({ ...form, name: event.currentTarget.value })} />
          {layers.map((layer, place) => (
            <fieldset key={place} style={{ display: 'grid', gap: 10, margin: 0, padding: several ? 10 : 0, border: several ? '1px solid var(--line)' : 0, borderRadius: 8 }}>
              {several && <div className="apart"><b>{place === 0 ? 'Asked first' : `When layer ${place} has nobody`}</b><Button variant="subtle" size="compact-sm" onClick={() => setLayers(layers.filter((_, index) => index !== place))}>Take it away</Button></div>}
              <MultiSelect label="People, in the order of their turns" data={people.map((each) => ({ value: each.key, label: each.name }))} value={layer.people} onChange={(value) => put(place, { people: value })} searchable />
              <Select label="Hands over every" data={['day', 'week', OWN]} value={layer.every} allowDeselect={false} onChange={(value) => put(place, { every: value ?? 'week' })} />
              {layer.every === OWN && <TextInput label="Rule" placeholder="FREQ=WEEKLY;BYDAY=MO,FR" value={layer.rule} onChange={(event) => put(place, { rule: event.currentTarget.value })} description="An iCalendar rule (RFC 5545): it hands over each time the rule names, at the clock time of the first" />}
              <TextInput type="date" label="First hand-over" value={layer.from} onChange={(event) => put(place, { from: event.currentTarget.value })} />
              <TextInput type="time" label="At" value={layer.at} onChange={(event) => put(place, { at: event.currentTarget.value })} />
              <TextInput label="Only in these hours" placeholder="always" value={layer.hours} onChange={(event) => put(place, { hours: event.currentTarget.value })} description="mon-fri 08:00-18:00; leave it empty for always" />
            </fieldset>
          ))}
          <Button variant="subtle" onClick={() => setLayers([...layers, blank])}>Add a layer below, for when nobody is on call above</Button>
          <TextInput label="Zone" value={form.zone} onChange={(event) => setForm({ ...form, zone: event.currentTarget.value })} />
          {error && <div className="notice trouble" role="alert">{error}</div>}
          <Button onClick={save} loading={busy}>{rota ? 'Save' : 'Add'}</Button>
        </div>
      </Modal>
    </>
  )
}
