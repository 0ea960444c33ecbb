'use client'

import { Button, Checkbox, ColorInput, Menu, Modal, Popover, Select, TextInput } from '@mantine/core'
import { useClipboard, useHotkeys } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useRouter } from 'next/navigation'
import { memo, useCallback, useEffect, useMemo, useRef, useState, useTransition } from 'react'
import { IMPORTANCES } from '@/core/definitions/check'
import type { KnownLocation } from '@/core/sentence/check-sentence'
import { STATE_NAMES, STATES } from '@/core/states/check-state'
import { FILTER_FIELDS, QUESTIONS, readFilter, type Filter } from '@/core/table/filter'
import { kinds } from '@/kinds/definitions'
import { colourTag, dropView, keepView } from '../../../app/actions/table'
import { COLUMNS } from './columns'
import type { CheckRow } from './row'

export interface SavedView { id: number; name: string; query: string; own: boolean }

interface Props {
  rows: CheckRow[]
  shown: CheckRow[]
  columns: string[]
  setColumns: (columns: string[]) => void
  query: string
  latestQuery: () => string
  set: (changes: Record<string, string | null>) => void
  services: { key: string; name: string }[]
  locations: KnownLocation[]
  clients: { key: string; name: string }[]
  listeners: { key: string; name: string }[]
  views: SavedView[]
  colours: Record<string, string>
}

const ALWAYS = ['state', 'service', 'only']
const unique = (values: string[]) => [...new Set(values)].filter((value) => value !== '').sort((a, b) => a.localeCompare(b))

type Choices = Record<Exclude<keyof Filter, 'text'>, { called: string; data: { value: string; label: string }[] }>

/** What the table is narrowed to, in which columns, and the views that were kept. */
export function TableTools({ rows, shown, columns, setColumns, query, latestQuery, set, services, locations, clients, listeners, views, colours }: Props) {
  const filter = useMemo(() => readFilter(new URLSearchParams(query)), [query])
  const field = useRef<HTMLInputElement>(null)
  const text = filter.text ?? ''
  useEffect(() => {
    // a saved view or the way back brings another text
    if (field.current && field.current !== document.activeElement) field.current.value = text
  }, [text])
  useHotkeys([['/', () => field.current?.focus()]])
  const clipboard = useClipboard()
  const choices = useMemo((): Choices => ({
    state: { called: 'state', data: STATES.map((state) => ({ value: state, label: STATE_NAMES[state] })) },
    service: { called: 'service', data: services.map(({ key, name }) => ({ value: key, label: name })) },
    only: { called: 'question', data: Object.entries(QUESTIONS).map(([value, label]) => ({ value, label })) },
    tag: { called: 'tag', data: unique(rows.flatMap((row) => row.tags)).map((tag) => ({ value: tag, label: tag })) },
    stage: { called: 'stage', data: unique(rows.map((row) => row.stage)).map((stage) => ({ value: stage, label: stage })) },
    client: { called: 'client', data: clients.map(({ key, name }) => ({ value: key, label: name })) },
    location: { called: 'location', data: locations.map(({ key, place }) => ({ value: key, label: place })) },
    importance: { called: 'importance', data: IMPORTANCES.map((value) => ({ value, label: value })) },
    told: { called: 'who is told', data: listeners.map(({ key, name }) => ({ value: key, label: name })) },
    kind: { called: 'kind', data: Object.keys(kinds).map((kind) => ({ value: kind, label: kind })) }
  }), [rows, services, locations, clients, listeners])
  const fields = Object.keys(choices) as (keyof typeof choices)[]
  const [added, setAdded] = useState<string[]>([])
  const visible = fields.filter((name) => ALWAYS.includes(name) || filter[name] !== undefined || added.includes(name))
  const hidden = fields.filter((name) => !visible.includes(name)).join(' ')
  const add = useCallback((name: string) => setAdded((before) => [...before, name]), [])
  const clear = useCallback(() => set(Object.fromEntries([...FILTER_FIELDS, 'sort', 'columns'].map((name) => [name, null]))), [set])
  const tags = useMemo(() => choices.tag.data.map((each) => each.value), [choices])
  const csv = () => clipboard.copy([['state', 'key', 'name', 'address', 'service', 'every', 'available', 'p95_ms'].join(','), ...shown.map((row) =>
    [row.state, row.key, row.name, row.address, row.service, row.every, row.available ?? '', row.p95 ?? ''].map((value) => `"${String(value).replaceAll('"', '""')}"`).join(','))].join('\n'))
  return (
    <div className="row" style={{ margin: '10px 0', gap: 8 }}>
      <TextInput ref={field} size="xs" w={210} placeholder="Filter by name, address or tag" aria-label="Filter" defaultValue={filter.text ?? ''} onChange={(event) => set({ text: event.currentTarget.value })} />
      {visible.map((name) => <Choice key={name} name={name} {...choices[name]} value={filter[name] ?? null} set={set} />)}
      <More names={hidden} choices={choices} add={add} />
      <span className="quiet small" role="status">{shown.length} of {rows.length}</span>
      <span className="row" style={{ marginLeft: 'auto', gap: 4 }}>
        <Views views={views} query={latestQuery} columns={columns} clear={clear} />
        <ColumnChoice columns={columns} setColumns={setColumns} />
        <TagColours tags={tags} colours={colours} />
        <Button variant="subtle" px={6} onClick={csv}>{clipboard.copied ? 'Copied' : 'Copy as CSV'}</Button>
      </span>
    </div>
  )
}

// the parts below are drawn again only when they change themselves, not at every letter of the filter

interface ChoiceProps { name: keyof Choices; called: string; data: { value: string; label: string }[]; value: string | null; set: Props['set'] }

const Choice = memo(function Choice({ name, called, data, value, set }: ChoiceProps) {
  const placeholder = name === 'only' ? 'anything' : name === 'told' ? 'whoever is told' : `any ${called}`
  return <Select size="xs" w={name === 'only' ? 190 : 130} placeholder={placeholder} aria-label={called} clearable searchable={data.length > 8} data={data} value={value} onChange={(next) => set({ [name]: next })} />
})

const More = memo(function More({ names, choices, add }: { names: string; choices: Choices; add: (name: string) => void }) {
  const hidden = names.split(' ').filter((name): name is keyof Choices => name in choices)
  return (
    <Menu position="bottom-start"><Menu.Target><Button variant="subtle" px={6}>+ filter</Button></Menu.Target>
      <Menu.Dropdown>{hidden.map((name) => <Menu.Item key={name} onClick={() => add(name)}>{choices[name].called}</Menu.Item>)}</Menu.Dropdown></Menu>
  )
})

const ColumnChoice = memo(function ColumnChoice({ columns, setColumns }: { columns: string[]; setColumns: (columns: string[]) => void }) {
  const toggle = (id: string) => {
    const next = columns.includes(id) ? columns.filter((each) => each !== id) : COLUMNS.filter((column) => column.id === id || columns.includes(column.id)).map((column) => column.id)
    if (next.length > 0) setColumns(next)
  }
  return (
    <Popover position="bottom-end" width={200}><Popover.Target><Button variant="subtle" px={6}>Columns</Button></Popover.Target>
      <Popover.Dropdown p={10}>{COLUMNS.map((column) => <Checkbox key={column.id} size="xs" my={6} label={column.name} checked={columns.includes(column.id)} onChange={() => toggle(column.id)} disabled={column.id === 'name'} />)}</Popover.Dropdown></Popover>
  )
})

const Views = memo(function Views({ views, query, columns, clear }: { views: SavedView[]; query: () => string; columns: string[]; clear: () => void }) {
  const router = useRouter()
  const [name, setName] = useState('')
  const [shared, setShared] = useState(false)
  const [saving, setSaving] = useState(false)
  const [busy, start] = useTransition()
  const keep = () => start(async () => {
    const kept = new URLSearchParams(query())
    kept.set('columns', columns.join(','))
    const result = await keepView(name, kept.toString(), shared)
    if ('error' in result) return void notifications.show({ message: result.error, color: 'red' })
    setSaving(false)
    return void notifications.show({ message: `The view ${name} is kept.` })
  })
  return (
    <>
      <Menu position="bottom-end" width={240}><Menu.Target><Button variant="subtle" px={6}>Views</Button></Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={clear}>Everything</Menu.Item>
          {views.map((view) => <Menu.Item key={view.id} onClick={() => router.push(`/checks?${view.query}`)} rightSection={view.own ? <span role="button" tabIndex={0} aria-label={`Forget ${view.name}`} onClick={(event) => { event.stopPropagation(); start(async () => void (await dropView(view.id))) }}>×</span> : <span className="quiet small">shared</span>}>{view.name}</Menu.Item>)}
          <Menu.Divider />
          <Menu.Item onClick={() => setSaving(true)}>Keep this view …</Menu.Item>
        </Menu.Dropdown></Menu>
      <Modal opened={saving} onClose={() => setSaving(false)} title="Keep this view">
        <TextInput label="Its name" value={name} data-autofocus onChange={(event) => setName(event.currentTarget.value)} onKeyDown={(event) => { if (event.key === 'Enter') keep() }} />
        <Checkbox mt={10} label="Everyone may use it" checked={shared} onChange={(event) => setShared(event.currentTarget.checked)} />
        <Button mt={12} loading={busy} disabled={name.trim() === ''} onClick={keep}>Keep it</Button>
      </Modal>
    </>
  )
})

const SWATCHES = ['#1b6ca8', '#b5479d', '#4c8c2b', '#7a5cc4', '#008c95', '#a8641c']

const TagColours = memo(function TagColours({ tags, colours }: { tags: string[]; colours: Record<string, string> }) {
  const [open, setOpen] = useState(false)
  const [, start] = useTransition()
  const give = (tag: string, colour: string) => start(async () => {
    const result = await colourTag(tag, colour)
    if ('error' in result) notifications.show({ message: result.error, color: 'red' })
  })
  return (
    <>
      <Button variant="subtle" px={6} onClick={() => setOpen(true)}>Tag colours</Button>
      <Modal opened={open} onClose={() => setOpen(false)} title="Colours of tags">
        {tags.length === 0 && <p className="quiet">No check has a tag yet.</p>}
        <div style={{ display: 'grid', gap: 8 }}>{tags.map((tag) => <ColorInput key={tag} size="xs" label={tag} format="hex" swatches={SWATCHES} defaultValue={colours[tag] ?? ''} placeholder="no colour" onChangeEnd={(colour) => give(tag, colour)} />)}</div>
      </Modal>
    </>
  )
})
