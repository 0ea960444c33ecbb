'use client'

import { Button, FileButton, MultiSelect, Select, Textarea, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useState, useTransition } from 'react'
import { readSpokenDuration } from '@/core/definitions/duration'
import { plan, takeCalendar } from '../../../app/actions/planned'

const REPEATS = [
  { value: '', label: 'once' }, { value: 'FREQ=DAILY', label: 'every day' }, { value: 'FREQ=WEEKLY', label: 'every week' }, { value: 'FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR', label: 'every weekday' },
  { value: 'FREQ=MONTHLY', label: 'every month, this day' }, { value: 'own', label: 'by a rule' }
]

interface Props {
  zone: string
  zones: string[]
  /** The present time on the clock of the zone: `2026-11-24T02:00`. */
  now: string
  services: { key: string; name: string }[]
  checks: { key: string; name: string }[]
  tags: string[]
}

/** Announces work, or a release window, for what it concerns. */
export function PlanForm({ zone, zones, now, services, checks, tags }: Props) {
  const [facts, setFacts] = useState({ title: '', public: '', does: 'work', from: now, zone, lasts: '1 h', repeats: '', rule: '' })
  const [concerned, setConcerned] = useState<string[]>([])
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const set = (changes: Partial<typeof facts>) => setFacts({ ...facts, ...changes })
  const picked = (prefix: string) => concerned.filter((each) => each.startsWith(`${prefix}:`)).map((each) => each.slice(prefix.length + 1))
  const chosen = () => {
    const lists = { services: picked('service'), tags: picked('tag'), checks: picked('check') }
    const given = Object.fromEntries(Object.entries(lists).filter(([, list]) => list.length > 0))
    return Object.keys(given).length > 0 ? given : undefined
  }
  const add = () => start(async () => {
    const lasts = readSpokenDuration(facts.lasts)
    if (lasts === undefined) return setError('How long? A duration such as 90 min or 2 h.')
    const rule = facts.repeats === 'own' ? facts.rule.trim() : facts.repeats
    const result = await plan({ title: facts.title.trim(), does: facts.does, from: facts.from.trim().replace(/\s+/, 'T'), zone: facts.zone, lasts, ...(facts.public.trim() === '' ? {} : { public: facts.public.trim() }), ...(rule === '' ? {} : { repeats: rule }), ...(chosen() ? { for: chosen() } : {}) })
    if ('error' in result) return setError(result.error)
    setError(undefined)
    set({ title: '', public: '' })
    return void notifications.show({ message: `${facts.title} is planned.` })
  })
  const take = (file: File | null) => start(async () => {
    if (!file) return
    const result = await takeCalendar(await file.text(), chosen())
    if ('error' in result) setError(result.error)
    else notifications.show({ message: `${result.value.count} events of ${file.name} are planned.` })
  })
  return (
    <div className="card pad" style={{ display: 'grid', gap: 10 }}>
      <div className="row" style={{ alignItems: 'flex-end' }}>
        <Select size="xs" w={180} label="It is" allowDeselect={false} data={[{ value: 'work', label: 'planned work' }, { value: 'window', label: 'a release window' }]} value={facts.does} onChange={(does) => set({ does: does ?? 'work' })} />
        <TextInput size="xs" style={{ flex: 1, minWidth: 200 }} label="Title" placeholder="Moving the database" value={facts.title} onChange={(event) => set({ title: event.currentTarget.value })} />
      </div>
      <div className="row" style={{ alignItems: 'flex-end' }}>
        <TextInput size="xs" w={150} label="It begins" placeholder="2026-11-24 02:00" value={facts.from} onChange={(event) => set({ from: event.currentTarget.value })} />
        <Select size="xs" w={190} label="on the clock of" searchable allowDeselect={false} data={zones} value={facts.zone} onChange={(value) => set({ zone: value ?? zone })} />
        <TextInput size="xs" w={90} label="and lasts" value={facts.lasts} onChange={(event) => set({ lasts: event.currentTarget.value })} />
        <Select size="xs" w={170} label="It takes place" allowDeselect={false} data={REPEATS} value={facts.repeats} onChange={(repeats) => set({ repeats: repeats ?? '' })} />
        {facts.repeats === 'own' && <TextInput size="xs" w={240} label="Rule (RRULE)" placeholder="FREQ=MONTHLY;BYDAY=-1SU" value={facts.rule} onChange={(event) => set({ rule: event.currentTarget.value })} styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)' } }} />}
      </div>
      <MultiSelect size="xs" label="It concerns" placeholder={concerned.length === 0 ? 'everything' : undefined} searchable value={concerned} onChange={setConcerned}
        data={[{ group: 'services', items: services.map(({ key, name }) => ({ value: `service:${key}`, label: name })) }, { group: 'tags', items: tags.map((tag) => ({ value: `tag:${tag}`, label: `tagged ${tag}` })) }, { group: 'checks', items: checks.map(({ key, name }) => ({ value: `check:${key}`, label: `${name} (${key})` })) }]} />
      {facts.does === 'work' && <Textarea size="xs" label="What the public is told" autosize minRows={1} value={facts.public} onChange={(event) => set({ public: event.currentTarget.value })} />}
      {error && <div className="notice trouble" role="alert">{error}</div>}
      <div className="row"><Button onClick={add} loading={busy} disabled={facts.title.trim() === ''}>Plan it</Button>
        <FileButton onChange={take} accept=".ics,text/calendar">{(props) => <Button variant="default" {...props}>Take a calendar file</Button>}</FileButton>
        <Button variant="subtle" component="a" href="/api/planned.ics" download>Save all as a calendar file</Button></div>
    </div>
  )
}
