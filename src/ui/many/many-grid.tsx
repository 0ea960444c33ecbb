'use client'

import { Button, Select, Textarea, TextInput } from '@mantine/core'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useRouter } from 'next/navigation'
import { useMemo, useRef, useState, useTransition } from 'react'
import { IMPORTANCES } from '@/core/definitions/check'
import { readSpokenDuration, speakMilliseconds } from '@/core/definitions/duration'
import { LINES_MOST, readAddresses } from '@/core/many/read-addresses'
import { kinds } from '@/kinds/definitions'
import { readMany, startMany, tryMany } from '../../../app/actions/many'
import { StateMark } from '../marks/state-mark'
import { showUndo } from '../shell/undo-notice'
import { documentOf, rankOf, wouldStart, type Field, type GridRow } from './grid-row'
import classes from './many.module.css'

const BATCH = 100
const ROW = 36
const MARKS = { pass: 'up', warn: 'warning', slow: 'slow', fail: 'down' } as const

/** A pasted list of addresses as a grid: one row each, tried together, failures on top. */
export function ManyGrid({ services, standing }: { services: { key: string; name: string; judges: boolean }[]; standing: [string, string][] }) {
  const router = useRouter()
  const [rows, setRows] = useState<GridRow[]>([])
  const [left, setLeft] = useState(0)
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const [running, setRunning] = useState(0)
  const [picked, setPicked] = useState<{ field: Field; from: number; to: number }>()
  const round = useRef(0)
  const order = useMemo(() => rows.map((row, index) => ({ row, index })).sort((a, b) => rankOf(a.row) - rankOf(b.row) || a.index - b.index), [rows])
  const starting = rows.filter(wouldStart)
  const judging = useMemo(() => new Set(services.filter((service) => service.judges).map((service) => service.key)), [services])

  const put = (indexes: number[], changes: Partial<GridRow>) => setRows((before) => before.map((row, index) => (indexes.includes(index) ? { ...row, ...changes } : row)))
  const tryAll = async (given: GridRow[]) => {
    const own = ++round.current
    const able = given.map((row, index) => ({ row, index })).filter(({ row }) => row.target !== undefined && !row.duplicate)
    setRunning(able.length)
    for (let at = 0; at < able.length && own === round.current; at += BATCH) {
      const batch = able.slice(at, at + BATCH)
      const begun = await tryMany(batch.map(({ row }) => documentOf(row, judging)), at)
      if ('error' in begun) return setError(begun.error)
      const waiting = new Map<string, number>()
      begun.value.forEach((each, position) => {
        if ('id' in each) waiting.set(each.id, batch[position]!.index)
        else put([batch[position]!.index], { result: { verdict: 'fail', words: each.problem } })
      })
      setRunning((before) => before - (batch.length - waiting.size))
      for (const until = Date.now() + 20_000; waiting.size > 0 && Date.now() < until && own === round.current;) {
        const found = await readMany([...waiting.keys()])
        if ('value' in found && found.value.length > 0) {
          const results = new Map(found.value.map((each) => [waiting.get(each.id)!, each]))
          setRows((before) => before.map((row, index) => {
            const result = results.get(index)
            return result ? { ...row, result: { verdict: result.verdict, total: result.total, words: result.sentence ? `${result.place}: ${result.sentence}` : `${result.status ?? ''} from ${result.place}` } } : row
          }))
          for (const each of found.value) waiting.delete(each.id)
          setRunning((before) => before - found.value.length)
        }
        await new Promise((resolve) => setTimeout(resolve, 250))
      }
      for (const index of waiting.values()) put([index], { result: { verdict: 'fail', words: 'no probe answered' } })
      setRunning((before) => before - waiting.size)
    }
    return undefined
  }
  const take = (text: string) => {
    const read = readAddresses(text, kinds, new Map(standing))
    const fresh = read.rows.map((row): GridRow => ({ ...row, service: '', every: '', importance: '', tags: '', ...(row.target && !row.duplicate ? { result: 'running' } : {}) }))
    setRows(fresh)
    setLeft(read.left)
    setError(undefined)
    void tryAll(fresh)
  }
  const pick = (field: Field, place: number, extend: boolean) => setPicked((before) => (extend && before?.field === field ? { ...before, to: place } : { field, from: place, to: place }))
  const fillDown = () => {
    if (!picked) return
    const [from, to] = [Math.min(picked.from, picked.to), picked.from === picked.to ? order.length - 1 : Math.max(picked.from, picked.to)]
    put(order.slice(from, to + 1).map(({ index }) => index), { [picked.field]: order[from]!.row[picked.field] })
  }
  const watch = () => start(async () => {
    const result = await startMany(starting.map((row) => documentOf(row, judging)))
    if ('error' in result) return setError(result.error)
    router.push('/checks')
    return showUndo(`${result.value.count} checks are being watched.`, result.value.change)
  })
  if (rows.length === 0) return <Paste take={take} />
  const counts = { failing: rows.filter((row) => row.problem === undefined && typeof row.result === 'object' && row.result.verdict === 'fail').length, unreadable: rows.filter((row) => row.problem !== undefined).length, double: rows.filter((row) => row.duplicate).length }
  return (
    <>
      <h1>{running > 0 ? `${rows.length - running} of ${rows.length} are tried.` : `${starting.length} of ${rows.length} pass.`} {[counts.failing > 0 && `${counts.failing} fail`, counts.double > 0 && `${counts.double} are there twice`, counts.unreadable > 0 && `${counts.unreadable} cannot be read`].filter(Boolean).join(', ')}</h1>
      {left > 0 && <div className="notice trouble" role="alert" style={{ marginTop: 8 }}>Only the first {LINES_MOST} lines were taken; {left} more are left out. Start these, then paste the rest.</div>}
      {error && <div className="notice trouble" role="alert" style={{ marginTop: 8 }}>{error}</div>}
      <div className="row" style={{ margin: '12px 0' }}>
        <Button onClick={watch} loading={busy} disabled={starting.length === 0 || running > 0}>Start the {starting.length} that pass</Button>
        <Button variant="default" disabled={running > 0} onClick={() => { setRows(rows.map((row) => (row.target && !row.duplicate ? { ...row, result: 'running' } : row))); void tryAll(rows) }}>Try them again</Button>
        <Button variant="default" disabled={!picked} onClick={fillDown}>Fill down{picked ? ` the ${picked.field}` : ''}</Button>
        <span className="quiet small">Choose a cell, Shift for more; Ctrl D fills the first one down.</span>
        <Button variant="subtle" style={{ marginLeft: 'auto' }} onClick={() => { round.current += 1; setRows([]); setRunning(0) }}>Paste another list</Button>
      </div>
      <Rows order={order} services={services} picked={picked} pick={pick} fillDown={fillDown} change={(index, changes) => put([index], changes)} />
    </>
  )
}

function Paste({ take }: { take: (text: string) => void }) {
  const [text, setText] = useState('')
  return (
    <>
      <h1>Paste a list of addresses.</h1>
      <p className="quiet">One a line, with a name before or after it if you like. Each is tried at once, from one location after another; nothing is watched before you say so.</p>
      <Textarea aria-label="Addresses, one a line" autosize minRows={12} maxRows={24} placeholder={'https://www.example.org/\nShop; shop.example.org/health\n192.0.2.10:8080'} value={text} data-autofocus autoFocus
        onChange={(event) => setText(event.currentTarget.value)} onPaste={(event) => { if (text === '') { event.preventDefault(); take(event.clipboardData.getData('text')) } }} styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)', fontSize: 13 } }} />
      <Button mt={10} disabled={text.trim() === ''} onClick={() => take(text)}>Try them all</Button>
    </>
  )
}

interface RowsProps {
  order: { row: GridRow; index: number }[]
  services: { key: string; name: string }[]
  picked: { field: Field; from: number; to: number } | undefined
  pick: (field: Field, place: number, extend: boolean) => void
  fillDown: () => void
  change: (index: number, changes: Partial<GridRow>) => void
}

function Rows({ order, services, picked, pick, fillDown, change }: RowsProps) {
  const frame = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({ count: order.length, getScrollElement: () => frame.current, estimateSize: () => ROW, overscan: 12 })
  const isPicked = (field: Field, place: number) => picked?.field === field && place >= Math.min(picked.from, picked.to) && place <= Math.max(picked.from, picked.to)
  const cell = (field: Field, place: number) => ({
    'data-picked': isPicked(field, place) || undefined,
    onMouseDown: (event: React.MouseEvent) => { if (event.shiftKey) { event.preventDefault(); pick(field, place, true) } },
    onFocus: () => { if (!isPicked(field, place)) pick(field, place, false) },
    onKeyDown: (event: React.KeyboardEvent) => {
      if (event.key === 'd' && (event.ctrlKey || event.metaKey)) {
        event.preventDefault()
        fillDown()
      }
    }
  })
  return (
    <div className="card scroll">
      <div className={classes.grid} role="table" aria-label="Pasted addresses" aria-rowcount={order.length}>
        <div className={classes.head} role="row">{['', 'Name', 'Address', 'Service', 'Every', 'Importance', 'Tags', 'What it answers', ''].map((name, index) => <span key={index} role="columnheader">{name}</span>)}</div>
        <div ref={frame} className={classes.frame}>
          <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
            {virtual.getVirtualItems().map(({ index: place, start }) => {
              const { row, index } = order[place]!
              const result = typeof row.result === 'object' ? row.result : undefined
              return (
                <div key={index} role="row" className={classes.row} style={{ transform: `translateY(${start}px)` }}>
                  <span role="cell"><StateMark state={row.problem ? 'suspect' : row.duplicate ? 'nodata' : result ? MARKS[result.verdict] : 'nodata'} title={row.problem ?? (row.duplicate ? 'there twice' : result?.verdict ?? 'running')} /></span>
                  <span role="cell" {...cell('name', place)}><TextInput size="xs" variant="unstyled" aria-label={`Name, line ${row.line}`} value={row.name} onChange={(event) => change(index, { name: event.currentTarget.value })} disabled={!row.target} /></span>
                  <span role="cell" className="code clip" title={row.address}>{row.address.replace(/^https:\/\//, '')}</span>
                  <span role="cell" {...cell('service', place)}><Select size="xs" variant="unstyled" aria-label={`Service, line ${row.line}`} clearable searchable data={services.map(({ key, name }) => ({ value: key, label: name }))} value={row.service || null} placeholder="none" onChange={(service) => change(index, { service: service ?? '' })} disabled={!row.target} /></span>
                  <span role="cell" {...cell('every', place)}><Every row={row} change={(every) => change(index, { every })} /></span>
                  <span role="cell" {...cell('importance', place)}><Select size="xs" variant="unstyled" aria-label={`Importance, line ${row.line}`} clearable data={[...IMPORTANCES]} value={row.importance || null} placeholder="inherited" onChange={(importance) => change(index, { importance: importance ?? '' })} disabled={!row.target} /></span>
                  <span role="cell" {...cell('tags', place)}><TextInput size="xs" variant="unstyled" aria-label={`Tags, line ${row.line}`} value={row.tags} onChange={(event) => change(index, { tags: event.currentTarget.value })} disabled={!row.target} /></span>
                  <span role="cell" className="clip small" title={row.problem ?? result?.words}>{row.problem ? <b className="down-text">line {row.line}: {row.problem}</b>
                    : row.duplicate ? <span className="quiet">{'line' in row.duplicate ? `the same as line ${row.duplicate.line}` : `watched already: ${row.duplicate.check}`}</span>
                      : result ? <span className={result.verdict === 'fail' ? 'down-text strong' : 'quiet'}>{result.words}</span> : row.result === 'running' ? <span className="quiet">trying</span> : ''}</span>
                  <span role="cell" className="number">{result?.total === undefined || result.verdict === 'fail' ? '' : speakMilliseconds(result.total)}</span>
                </div>
              )
            })}
          </div>
        </div>
      </div>
    </div>
  )
}

function Every({ row, change }: { row: GridRow; change: (every: string) => void }) {
  const [typed, setTyped] = useState<string>()
  const shown = typed ?? row.every
  const written = shown === '' ? '' : readSpokenDuration(shown)
  return <TextInput size="xs" variant="unstyled" aria-label={`Every, line ${row.line}`} placeholder="inherited" value={shown} error={written === undefined} disabled={!row.target}
    onChange={(event) => { setTyped(event.currentTarget.value); const next = readSpokenDuration(event.currentTarget.value); if (next !== undefined || event.currentTarget.value === '') change(next ?? '') }} onBlur={() => setTyped(undefined)} />
}
