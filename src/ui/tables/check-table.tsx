'use client'

import { Button, Select, TextInput } from '@mantine/core'
import { useHotkeys, useClipboard } from '@mantine/hooks'
import { createColumnHelper, flexRender, getCoreRowModel, getFilteredRowModel, getSortedRowModel, useReactTable, type SortingState } from '@tanstack/react-table'
import Link from 'next/link'
import { usePathname, useRouter, useSearchParams } from 'next/navigation'
import { useEffect, useMemo, useRef, useState } from 'react'
import { speakMilliseconds } from '@/core/definitions/duration'
import { STATE_NAMES, STATES, type CheckState } from '@/core/states/check-state'
import { speakAvailability } from '@/core/availability/availability'
import { StateMark } from '../marks/state-mark'
import { Moment } from '../marks/moment'

export interface CheckRow {
  key: string
  name: string
  address: string
  service: string
  serviceKey: string
  state: CheckState
  since: number
  sentence: string
  muted: boolean
  importance: string
  every: string
  tags: string[]
  p95?: number
  usual?: number
  available?: number
}

const ORDER: CheckState[] = ['down', 'slow', 'suspect', 'warning', 'nodata', 'planned', 'paused', 'up']
/** Rows in the first answer of the server; the rest follow at once in the browser. */
const FIRST_ROWS = 60
const column = createColumnHelper<CheckRow>()

/** All checks, to filter, sort and copy. The filter and the order stand in the address. */
export function CheckTable({ rows, now, services }: { rows: CheckRow[]; now: number; services: { key: string; name: string }[] }) {
  const router = useRouter()
  const path = usePathname()
  const search = useSearchParams()
  const clipboard = useClipboard()
  const filterField = useRef<HTMLInputElement>(null)
  useHotkeys([['/', () => filterField.current?.focus()]])
  const text = search.get('text') ?? ''
  const sort = search.get('sort') ?? 'state'
  const sorting: SortingState = [{ id: sort.replace(/^-/, ''), desc: sort.startsWith('-') }]
  const set = (name: string, value: string | null) => {
    const next = new URLSearchParams(search)
    if (value) next.set(name, value)
    else next.delete(name)
    window.history.replaceState(null, '', `${path}?${next}`)
  }
  const shown = useMemo(() => {
    const [service, state] = [search.get('service'), search.get('state')]
    return rows.filter((row) => (!service || row.serviceKey === service) && (!state || row.state === state))
  }, [rows, search])
  const columns = useMemo(() => [
    column.accessor('state', {
      header: 'State', sortingFn: (a, b) => ORDER.indexOf(a.original.state) - ORDER.indexOf(b.original.state) || a.original.name.localeCompare(b.original.name),
      cell: ({ row }) => <span className="row" style={{ gap: 8, flexWrap: 'nowrap' }}><StateMark state={row.original.state} /><span className={row.original.state === 'down' ? 'down-text strong' : row.original.state === 'slow' || row.original.state === 'warning' ? 'slow-text strong' : 'quiet'}>{STATE_NAMES[row.original.state]}{row.original.muted && ', muted'}</span></span>
    }),
    column.accessor('name', {
      header: 'Check',
      cell: ({ row }) => <div style={{ maxWidth: 340 }}><Link className="name" href={`/checks/${row.original.key}`}>{row.original.name}</Link>{row.original.tags.map((tag) => <span key={tag} className="chip" style={{ marginLeft: 6 }}>{tag}</span>)}<div className="quiet small clip code">{row.original.address}</div></div>
    }),
    column.accessor('service', { header: 'Service', cell: ({ getValue }) => <span className="small">{getValue() || <span className="quiet">none</span>}</span> }),
    column.accessor('since', { header: 'Since', cell: ({ row }) => <span className="small quiet" style={{ whiteSpace: 'nowrap' }}><Moment at={row.original.since} now={now} />{row.original.state !== 'up' && row.original.sentence && <div className="clip" style={{ maxWidth: 220 }} title={row.original.sentence}>{row.original.sentence}</div>}</span> }),
    column.accessor('every', { header: 'Every', cell: ({ getValue }) => <span className="small">{getValue()}</span> }),
    column.accessor('available', { header: '30 days', cell: ({ getValue }) => (getValue() === undefined ? '—' : speakAvailability(getValue()!)), meta: { number: true } }),
    column.accessor('p95', { header: 'p95 today', cell: ({ getValue }) => (getValue() === undefined ? '—' : speakMilliseconds(getValue()!)), meta: { number: true } })
  ], [now])
  const table = useReactTable({
    data: shown, columns, state: { sorting, globalFilter: text }, getCoreRowModel: getCoreRowModel(), getSortedRowModel: getSortedRowModel(), getFilteredRowModel: getFilteredRowModel(),
    globalFilterFn: (row, _column, wanted: string) => `${row.original.name} ${row.original.address} ${row.original.service} ${row.original.tags.join(' ')} ${row.original.key}`.toLowerCase().includes(wanted.toLowerCase())
  })
  const visible = table.getRowModel().rows
  const [whole, setWhole] = useState(false)
  useEffect(() => setWhole(true), [])
  const csv = () => clipboard.copy([['state', 'key', 'name', 'address', 'service', 'every', 'available', 'p95_ms'].join(','), ...visible.map(({ original }) =>
    [original.state, original.key, original.name, original.address, original.service, original.every, original.available ?? '', original.p95 ?? ''].map((value) => `"${String(value).replaceAll('"', '""')}"`).join(','))].join('\n'))
  return (
    <>
      <div className="row" style={{ margin: '10px 0' }}>
        <TextInput ref={filterField} size="xs" w={240} placeholder="Filter by name, address or tag" aria-label="Filter" defaultValue={text} onChange={(event) => set('text', event.currentTarget.value)} />
        <Select size="xs" w={200} placeholder="Any service" aria-label="Service" clearable data={services.map(({ key, name }) => ({ value: key, label: name }))} value={search.get('service')} onChange={(value) => set('service', value)} />
        <Select size="xs" w={150} placeholder="Any state" aria-label="State" clearable data={STATES.map((state) => ({ value: state, label: STATE_NAMES[state] }))} value={search.get('state')} onChange={(value) => set('state', value)} />
        <span className="quiet small" role="status">{visible.length} of {rows.length}</span>
        <Button variant="subtle" onClick={csv}>{clipboard.copied ? 'Copied' : 'Copy as CSV'}</Button>
      </div>
      <div className="card scroll">
        <table className="table">
          <thead>
            {table.getHeaderGroups().map((group) => (
              <tr key={group.id}>{group.headers.map((header) => (
                <th key={header.id} className={header.column.columnDef.meta ? 'number' : undefined} aria-sort={header.column.getIsSorted() === 'asc' ? 'ascending' : header.column.getIsSorted() === 'desc' ? 'descending' : undefined}>
                  <button type="button" style={{ all: 'unset', cursor: 'pointer', minHeight: 24 }} onClick={() => set('sort', header.column.id === sort ? `-${sort}` : header.column.id)}>
                    {flexRender(header.column.columnDef.header, header.getContext())}{{ asc: ' ↑', desc: ' ↓' }[String(header.column.getIsSorted())] ?? ''}
                  </button>
                </th>
              ))}</tr>
            ))}
          </thead>
          <tbody>
            {(whole ? visible : visible.slice(0, FIRST_ROWS)).map((row) => (
              <tr key={row.original.key} className="opens" onDoubleClick={() => router.push(`/checks/${row.original.key}`)}>
                {row.getVisibleCells().map((cell) => <td key={cell.id} className={cell.column.columnDef.meta ? 'number' : undefined}>{flexRender(cell.column.columnDef.cell, cell.getContext())}</td>)}
              </tr>
            ))}
            {visible.length === 0 && <tr><td colSpan={7} className="quiet" style={{ padding: 24 }}>No check fits this filter.</td></tr>}
          </tbody>
        </table>
      </div>
    </>
  )
}
