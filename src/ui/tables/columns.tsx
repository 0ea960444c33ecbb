import Link from 'next/link'
import { speakAvailability } from '@/core/availability/availability'
import { speakMilliseconds } from '@/core/definitions/duration'
import { STATE_NAMES, type CheckState } from '@/core/states/check-state'
import { Moment } from '../marks/moment'
import { StateMark } from '../marks/state-mark'
import type { CheckRow } from './row'
import { Tag } from './tag'

const ORDER: CheckState[] = ['down', 'slow', 'suspect', 'warning', 'nodata', 'planned', 'paused', 'up']
const IMPORTANCE = ['vital', 'high', 'normal', 'low']

/** One column: its width, what it shows and what it is sorted by. */
export interface Column {
  id: string
  name: string
  width: string
  number?: boolean
  cell: (row: CheckRow, more: { now: number; colours: Record<string, string> }) => React.ReactNode
  sort: (row: CheckRow) => string | number
}

const text = (id: keyof CheckRow & string, name: string, width: string): Column => ({ id, name, width, cell: (row) => <span className="small">{String(row[id])}</span>, sort: (row) => String(row[id]).toLowerCase() })

export const COLUMNS: Column[] = [
  {
    id: 'state', name: 'State', width: '128px', sort: (row) => ORDER.indexOf(row.state),
    cell: (row) => <span className="row" style={{ gap: 8, flexWrap: 'nowrap' }} title={row.state === 'up' ? undefined : row.sentence}><StateMark state={row.state} /><span className={row.state === 'down' ? 'down-text strong' : row.state === 'slow' || row.state === 'warning' ? 'slow-text strong' : 'quiet'}>{STATE_NAMES[row.state]}{row.muted && ', muted'}</span></span>
  },
  { id: 'name', name: 'Check', width: 'minmax(160px, 1.2fr)', sort: (row) => row.name.toLowerCase(), cell: (row) => <Link className="name" style={{ color: 'var(--ink)', fontWeight: 600 }} href={`/checks/${row.key}`}>{row.name}</Link> },
  { id: 'tags', name: 'Tags', width: 'minmax(90px, 0.5fr)', sort: (row) => row.tags.join(), cell: (row, { colours }) => <span className="row" style={{ gap: 4, flexWrap: 'nowrap' }}>{row.tags.map((tag) => <Tag key={tag} name={tag} {...(colours[tag] ? { colour: colours[tag] } : {})} />)}</span> },
  { id: 'address', name: 'Address', width: 'minmax(170px, 1.5fr)', sort: (row) => row.address, cell: (row) => <span className="code quiet small" title={row.address}>{row.address.replace(/^https:\/\//, '')}</span> },
  { ...text('service', 'Service', 'minmax(120px, 0.7fr)'), cell: (row) => row.serviceKey === '' ? <span className="quiet small">none</span> : <Link className="small" href={`/services/${row.serviceKey}`} style={{ color: 'var(--ink)' }}>{row.service}</Link> },
  { id: 'since', name: 'Since', width: '104px', sort: (row) => -row.since, cell: (row, { now }) => <span className="small quiet"><Moment at={row.since} now={now} /></span> },
  { id: 'importance', name: 'Importance', width: '82px', sort: (row) => IMPORTANCE.indexOf(row.importance), cell: (row) => <span className="small">{row.importance}</span> },
  text('every', 'Every', '62px'), text('kind', 'Kind', '54px'), text('stage', 'Stage', '86px'), text('client', 'Client', '110px'), text('from', 'From', '140px'), text('key', 'Key', 'minmax(110px, 0.6fr)'),
  { id: 'overrides', name: 'Overrides', width: '120px', sort: (row) => -row.overrides.length, cell: (row) => <span className="small" title={row.overrides.join(', ')}>{row.overrides.join(', ')}</span> },
  { id: 'troubles', name: 'Troubles, 7 days', width: '104px', number: true, sort: (row) => -row.troubles, cell: (row) => row.troubles || '' },
  { id: 'available', name: '30 days', width: '70px', number: true, sort: (row) => row.available ?? 2, cell: (row) => (row.available === undefined ? '—' : speakAvailability(row.available)) },
  { id: 'p95', name: 'p95 today', width: '84px', number: true, sort: (row) => -(row.p95 ?? -1), cell: (row) => (row.p95 === undefined ? '—' : speakMilliseconds(row.p95)) }
]

export const FIRST_COLUMNS = ['state', 'name', 'tags', 'address', 'service', 'since', 'every', 'available', 'p95']
