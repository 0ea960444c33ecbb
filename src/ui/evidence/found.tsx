import { speakLength, speakMilliseconds } from '@/core/definitions/duration'
import { speakReading } from '@/core/conditions/unit'
import type { Reading } from '@/core/conditions/subject'
import type { Evidence, EvidenceTable } from '@/core/observation'
import { Moment } from '../marks/moment'
import classes from './evidence.module.css'

/** What a try found out beside its time: numbers, words and rows. */
export function Found({ evidence, readings = {}, known, now }: { evidence: Evidence | undefined; readings?: Record<string, number>; known: Record<string, Reading>; now?: number }) {
  const numbers = Object.entries(readings).filter(([name]) => known[name])
  const facts = evidence?.facts ?? []
  return (
    <>
      {(numbers.length > 0 || facts.length > 0) && (
        <dl className={classes.facts}>
          {numbers.map(([name, value]) => <div key={name}><dt>{known[name]!.says}</dt><dd>{speakReading(known[name]!.unit, value)}</dd></div>)}
          {facts.map(([name, value], index) => <div key={index}><dt>{name}</dt><dd className="code">{value}</dd></div>)}
        </dl>
      )}
      {evidence?.tables?.map((table) => <Rows key={table.title} table={table} now={now ?? Date.now()} />)}
    </>
  )
}

/** Rows of a table; times are drawn as bars on one scale, in the order in which they came. */
export function Rows({ table: { title, columns, rows }, now }: { table: EvidenceTable; now: number }) {
  const timed = columns.flatMap((column, index) => (column.as === 'time' ? [index] : []))
  const most = Math.max(1, ...rows.flatMap((row) => timed.map((index) => Number(row[index] ?? 0))))
  return (
    <div className="scroll" style={{ marginTop: title === '' ? 0 : 10 }} tabIndex={0} role="group" aria-label={title || 'Rows'}>
      <table className={`table ${classes.rows}`} style={{ width: '100%' }}>{title !== '' && <caption className="strong" style={{ textAlign: 'left', padding: '4px 0' }}>{title}</caption>}
        <thead><tr>{columns.map((column) => <th key={column.name} className={column.as === 'number' || column.as === 'share' ? 'number' : undefined}>{column.name}</th>)}</tr></thead>
        <tbody>{rows.map((row, index) => <tr key={index}>{columns.map((column, at) => <Cell key={column.name} value={row[at] ?? null} as={column.as} most={most} now={now} />)}</tr>)}</tbody>
      </table>
    </div>
  )
}

function Cell({ value, as, most, now }: { now: number; value: string | number | null; as: EvidenceTable['columns'][number]['as']; most: number }) {
  if (value === null) return <td className={as === 'number' || as === 'share' ? 'number quiet' : 'quiet'}>{as === 'time' ? 'no answer' : '—'}</td>
  if (typeof value === 'string') return <td className={as === 'code' ? 'code' : undefined} style={as === 'code' && value.length <= 16 ? { whiteSpace: 'nowrap' } : { overflowWrap: 'anywhere', minWidth: as === 'code' ? 90 : 120 }}>{value}</td>
  switch (as) {
    case 'time': return <td style={{ whiteSpace: 'nowrap' }}><span className={classes.bar} aria-hidden style={{ width: Math.max(2, (value / most) * 48) }} />{speakMilliseconds(value)}</td>
    case 'length': return <td style={{ whiteSpace: 'nowrap' }}>{value < 60_000 ? speakMilliseconds(value) : speakLength(value)}</td>
    case 'moment': return <td style={{ whiteSpace: 'nowrap' }}><Moment at={value} now={now} /></td>
    case 'share': return <td className={value > 0 ? 'number slow-text' : 'number'}>{speakReading('share', value)}</td>
    default: return <td className="number">{value}</td>
  }
}

const WAYS = { sent: '→', received: '←', note: '·' }

/** What was said over a connection, with the time since the start of the try. */
export function TalkView({ talk }: { talk: NonNullable<Evidence['talk']> }) {
  return (
    <pre className={classes.talk}>{talk.map(({ way, text, ms }, index) => (
      <div key={index} className={way === 'note' ? 'quiet' : undefined}><span className="quiet">{speakMilliseconds(ms).padStart(8)}</span> <span aria-label={way}>{WAYS[way]}</span> {text}</div>
    ))}</pre>
  )
}
