'use client'

import { Checkbox } from '@mantine/core'
import { useDebouncedCallback, useHotkeys, useLocalStorage } from '@mantine/hooks'
import { useVirtualizer } from '@tanstack/react-virtual'
import { usePathname, useRouter, useSearchParams } from 'next/navigation'
import { memo, useCallback, useEffect, useMemo, useRef, useState, type CSSProperties } from 'react'
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
  const { query, latestQuery, set } = useQuery()
  const search = useMemo(() => new URLSearchParams(query), [query])
  const [kept, setKept] = useLocalStorage<string[]>({ key: 'hemeron-columns', defaultValue: FIRST_COLUMNS })
  const named = search.get('columns')
  const columns = useMemo(() => (named ? named.split(',') : kept).flatMap((id) => COLUMNS.find((column) => column.id === id) ?? []), [named, kept])
  const sort = search.get('sort') ?? 'state'
  // rows are put in order once, not at every letter of the filter
  const ordered = useMemo(() => {
    const by = COLUMNS.find((column) => column.id === sort.replace(/^-/, '')) ?? COLUMNS[0]!
    const turn = sort.startsWith('-') ? -1 : 1
    const { compare } = new Intl.Collator()
    return rows.map((row) => ({ row, value: by.sort(row) })).sort((a, b) => (a.value < b.value ? -turn : a.value > b.value ? turn : compare(a.row.name, b.row.name))).map((each) => each.row)
  }, [rows, sort])
  const shown = useMemo(() => {
    const filter = readFilter(search)
    return ordered.filter((row) => matches(row, filter, now))
  }, [ordered, search, now])
  const { chosen, toggle, setChosen } = useChoice(shown)
  const picked = shown.filter((row) => chosen.has(row.key))
  const open = useCallback((key: string) => router.push(`/checks/${key}`), [router])
  const chooseColumns = useCallback((next: string[]) => {
    setKept(next)
    if (named) set({ columns: null })
  }, [setKept, named, set])
  const ids = useMemo(() => columns.map((column) => column.id), [columns])
  useHotkeys([['Escape', () => setChosen(new Set())], ['mod+A', () => setChosen(new Set(shown.map((row) => row.key)))]])
  return (
    <>
      <TableTools rows={rows} shown={shown} columns={ids} setColumns={chooseColumns} query={query} latestQuery={latestQuery} set={set} services={services} locations={locations} clients={clients} listeners={listeners} views={views} colours={colours} />
      <Lines rows={shown} columns={columns} sort={sort} setSort={(next) => set({ sort: next })} chosen={chosen} toggle={toggle} toggleAll={() => setChosen(picked.length === shown.length ? new Set() : new Set(shown.map((row) => row.key)))} open={open} now={now} colours={colours} />
      {picked.length > 0 && <BulkBar rows={picked} services={services} locations={locations} leave={() => setChosen(new Set())} />}
    </>
  )
}

const AFTER_TYPING_MS = 250

/**
 * What stands after the question mark of the address: changed here at once, and in the address when the typing rests,
 * since every change of the address renders the whole view again.
 */
function useQuery() {
  const path = usePathname()
  const given = useSearchParams().toString()
  const [query, setQuery] = useState(given)
  const latest = useRef(given)
  const written = useRef(given)
  useEffect(() => {
    // back, forward and saved views change the address from outside
    if (given === written.current) return
    written.current = latest.current = given
    setQuery(given)
  }, [given])
  const write = useDebouncedCallback(() => {
    written.current = latest.current
    window.history.replaceState(null, '', `${path}?${latest.current}`)
  }, AFTER_TYPING_MS)
  const set = useCallback((changes: Record<string, string | null>) => {
    const next = new URLSearchParams(latest.current)
    for (const [name, value] of Object.entries(changes)) {
      if (value) next.set(name, value)
      else next.delete(name)
    }
    latest.current = next.toString()
    setQuery(latest.current)
    write()
  }, [write])
  const latestQuery = useCallback(() => latest.current, [])
  return { query, latestQuery, set }
}

/** Rows chosen by a press, and with Shift all between two presses. */
function useChoice(shown: CheckRow[]) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const last = useRef<string>(undefined)
  const now = useRef({ shown, chosen })
  now.current = { shown, chosen }
  const toggle = useCallback((key: string, withShift: boolean) => {
    const { shown, chosen } = now.current
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
  }, [])
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
  const template = useMemo(() => ({ gridTemplateColumns: `24px ${columns.map((column) => column.width).join(' ')}`, minWidth: least }), [columns, least])
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
            return <Line key={row.key} row={row} index={index} start={start} template={template} columns={columns} isChosen={chosen.has(row.key)} toggle={toggle} open={open} now={now} colours={colours} />
          })}
        </div>
      </div>
    </div>
  )
}

interface LineProps extends Pick<LinesProps, 'columns' | 'toggle' | 'open' | 'now' | 'colours'> {
  row: CheckRow
  index: number
  start: number
  template: CSSProperties
  isChosen: boolean
}

const Line = memo(function Line({ row, index, start, template, columns, isChosen, toggle, open, now, colours }: LineProps) {
  return (
    <div role="row" aria-rowindex={index + 2} className={`${classes.line} ${classes.row}`} data-chosen={isChosen || undefined} style={{ ...template, transform: `translateY(${start}px)` }} onDoubleClick={() => open(row.key)}>
      <span role="cell"><Checkbox size="xs" aria-label={`Choose ${row.name}`} checked={isChosen} onChange={() => undefined} onClick={(event) => toggle(row.key, event.shiftKey)} /></span>
      {columns.map((column) => <span key={column.id} role="cell" className={column.number ? classes.number : undefined}>{column.cell(row, { now, colours })}</span>)}
    </div>
  )
})
