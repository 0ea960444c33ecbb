'use client'

import { Checkbox } from '@mantine/core'
import { useHotkeys, useLocalStorage } from '@mantine/hooks'
import { useVirtualizer } from '@tanstack/react-virtual'
import { usePathname, useRouter, useSearchParams } from 'next/navigation'
import { useDeferredValue, useEffect, useMemo, useRef, useState } from 'react'
import { matches, readFilter } from '@/core/table/filter'
import type { KnownLocation } from '@/core/sentence/check-sentence'
import { BulkBar } from './bulk-bar'
import { COLUMNS, FIRST_COLUMNS, type Column } from './columns'
import type { CheckRow } from './row'
import { TableTools, type SavedView } from './table-tools'
import classes from './table.module.css'

const ROW = 36
/** Rows in the first answer of the server; the rest follow at once in the browser. */
const FIRST_ROWS = 40

interface Props {
  rows: CheckRow[]
  now: number
  services: { key: string; name: string }[]
  locations: KnownLocation[]
  clients: { key: string; name: string }[]
  listeners: { key: string; name: string }[]
  colours: Record<string, string>
  views: SavedView[]
}

/** All checks, to filter, sort, choose and change. The filter and the order stand in the address; columns are remembered. */
export function CheckTable({ rows, now, services, locations, clients, listeners, colours, views }: Props) {
  const router = useRouter()
  const path = usePathname()
  const search = useSearchParams()
  const [kept, setKept] = useLocalStorage<string[]>({ key: 'hemeron-columns', defaultValue: FIRST_COLUMNS })
  const named = search.get('columns')
  const columns = useMemo(() => (named ? named.split(',') : kept).flatMap((id) => COLUMNS.find((column) => column.id === id) ?? []), [named, kept])
  const query = useDeferredValue(search.toString())
  const set = (changes: Record<string, string | null>) => {
    const next = new URLSearchParams(search)
    for (const [name, value] of Object.entries(changes)) {
      if (value) next.set(name, value)
      else next.delete(name)
    }
    window.history.replaceState(null, '', `${path}?${next}`)
  }
  const sort = search.get('sort') ?? 'state'
  // rows are put in order once, not at every letter of the filter
  const ordered = useMemo(() => {
    const by = COLUMNS.find((column) => column.id === sort.replace(/^-/, '')) ?? COLUMNS[0]!
    const turn = sort.startsWith('-') ? -1 : 1
    const { compare } = new Intl.Collator()
    return rows.map((row) => ({ row, value: by.sort(row) })).sort((a, b) => (a.value < b.value ? -turn : a.value > b.value ? turn : compare(a.row.name, b.row.name))).map((each) => each.row)
  }, [rows, sort])
  const shown = useMemo(() => {
    const filter = readFilter(new URLSearchParams(query))
    return ordered.filter((row) => matches(row, filter, now))
  }, [ordered, query, now])
  const { chosen, toggle, setChosen } = useChoice(shown)
  const picked = shown.filter((row) => chosen.has(row.key))
  useHotkeys([['Escape', () => setChosen(new Set())], ['mod+A', () => setChosen(new Set(shown.map((row) => row.key)))]])
  return (
    <>
      <TableTools rows={rows} shown={shown} columns={columns.map((column) => column.id)} setColumns={(next) => { setKept(next); if (named) set({ columns: null }) }} set={set} services={services} locations={locations} clients={clients} listeners={listeners} views={views} colours={colours} />
      <Lines rows={shown} columns={columns} sort={sort} setSort={(next) => set({ sort: next })} chosen={chosen} toggle={toggle} toggleAll={() => setChosen(picked.length === shown.length ? new Set() : new Set(shown.map((row) => row.key)))} open={(key) => router.push(`/checks/${key}`)} now={now} colours={colours} />
      {picked.length > 0 && <BulkBar rows={picked} services={services} locations={locations} leave={() => setChosen(new Set())} />}
    </>
  )
}

/** Rows chosen by a press, and with Shift all between two presses. */
function useChoice(shown: CheckRow[]) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const last = useRef<string>(undefined)
  const toggle = (key: string, withShift: boolean) => {
    const turnsOn = !chosen.has(key)
    const [from, to] = [shown.findIndex((row) => row.key === last.current), shown.findIndex((row) => row.key === key)]
    const keys = withShift && from >= 0 ? shown.slice(Math.min(from, to), Math.max(from, to) + 1).map((row) => row.key) : [key]
    const next = new Set(chosen)
    for (const each of keys) {
      if (turnsOn) next.add(each)
      else next.delete(each)
    }
    last.current = key
    setChosen(next)
  }
  return { chosen, toggle, setChosen }
}

interface LinesProps {
  rows: CheckRow[]
  columns: Column[]
  sort: string
  setSort: (sort: string) => void
  chosen: ReadonlySet<string>
  toggle: (key: string, withShift: boolean) => void
  toggleAll: () => void
  open: (key: string) => void
  now: number
  colours: Record<string, string>
}

function Lines({ rows, columns, sort, setSort, chosen, toggle, toggleAll, open, now, colours }: LinesProps) {
  const frame = useRef<HTMLDivElement>(null)
  const [ready, setReady] = useState(false)
  useEffect(() => setReady(true), [])
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => frame.current, estimateSize: () => ROW, overscan: 10 })
  const drawn = ready ? virtual.getVirtualItems() : rows.slice(0, FIRST_ROWS).map((_, index) => ({ index, start: index * ROW }))
  const least = columns.reduce((sum, column) => sum + Number(/\d+/.exec(column.width)![0]) + 10, 60)
  const template = { gridTemplateColumns: `24px ${columns.map((column) => column.width).join(' ')}`, minWidth: least }
  const some = rows.some((row) => chosen.has(row.key))
  return (
    <div className="card" style={{ overflow: 'hidden' }}>
      <div ref={frame} className={classes.frame} role="table" aria-label="Checks" aria-rowcount={rows.length + 1}>
        <div className={`${classes.line} ${classes.head}`} role="row" style={template}>
          <span role="columnheader"><Checkbox size="xs" aria-label="Choose all" checked={some && rows.every((row) => chosen.has(row.key))} indeterminate={some && !rows.every((row) => chosen.has(row.key))} onChange={toggleAll} /></span>
          {columns.map((column) => {
            const isSorted = sort.replace(/^-/, '') === column.id
            return (
              <span key={column.id} role="columnheader" className={column.number ? classes.number : undefined} aria-sort={isSorted ? (sort.startsWith('-') ? 'descending' : 'ascending') : undefined}>
                <button type="button" className={classes.sort} onClick={() => setSort(sort === column.id ? `-${column.id}` : column.id)}>{column.name}{isSorted && (sort.startsWith('-') ? ' ↓' : ' ↑')}</button>
              </span>
            )
          })}
        </div>
        {rows.length === 0 && <div className="quiet" style={{ padding: 24 }}>No check fits this filter.</div>}
        <div style={{ height: virtual.getTotalSize(), position: 'relative', minWidth: least }} role="rowgroup">
          {drawn.map(({ index, start }) => {
            const row = rows[index]!
            return (
              <div key={row.key} role="row" aria-rowindex={index + 2} className={`${classes.line} ${classes.row}`} data-chosen={chosen.has(row.key) || undefined} style={{ ...template, transform: `translateY(${start}px)` }} onDoubleClick={() => open(row.key)}>
                <span role="cell"><Checkbox size="xs" aria-label={`Choose ${row.name}`} checked={chosen.has(row.key)} onChange={() => undefined} onClick={(event) => toggle(row.key, event.shiftKey)} /></span>
                {columns.map((column) => <span key={column.id} role="cell" className={column.number ? classes.number : undefined}>{column.cell(row, { now, colours })}</span>)}
              </div>
            )
          })}
        </div>
      </div>
    </div>
  )
}
