import Link from 'next/link'
import { STATE_NAMES } from '@/core/states/check-state'
import type { EvidenceTable } from '@/core/observation'
import type { Member } from '@/core/inside/inside'
import { Rows } from '../evidence/found'
import { Moment } from '../marks/moment'
import { StateMark } from '../marks/state-mark'

/** A number as it last came, and what it has been. */
export interface NumberLine {
  name: string
  value: string
  /** Oldest first, evenly in time; null where nothing came. */
  past: (number | null)[]
  isJudged: boolean
}

/** What a check that Hemeron judges itself goes by: runs of a job, numbers, or other checks. */
export type Told = { runs: EvidenceTable } | { numbers: NumberLine[]; count: number; over: string } | { members: Member[] }

const HEIGHT = 18
const WIDTH = 120

function Spark({ past }: { past: (number | null)[] }) {
  const known = past.filter((value) => value !== null)
  if (known.length < 2) return null
  const [least, most] = [Math.min(...known), Math.max(...known)]
  const y = (value: number) => (most === least ? HEIGHT / 2 : HEIGHT - 1 - ((value - least) / (most - least)) * (HEIGHT - 2))
  let pen = 'M'
  const path = past.map((value, index) => {
    if (value === null) {
      pen = 'M'
      return ''
    }
    const step = `${pen}${((index / Math.max(1, past.length - 1)) * WIDTH).toFixed(1)} ${y(value).toFixed(1)}`
    pen = 'L'
    return step
  }).join('')
  return <svg width={WIDTH} height={HEIGHT} aria-hidden><path d={path} fill="none" stroke="var(--healthy)" strokeWidth={1.25} strokeLinejoin="round" /></svg>
}

/** What a check goes by, as rows. */
export function ToldTable({ told, now }: { told: Told; now: number }) {
  if ('runs' in told) return told.runs.rows.length === 0 ? <p className="quiet pad">No call has come yet.</p> : <Rows table={{ ...told.runs, title: '' }} now={now} />
  if ('members' in told) {
    return (
      <table className="table">
        <thead><tr><th style={{ width: 30 }}><span className="sr">State</span></th><th>Check</th><th>State</th><th>Since</th></tr></thead>
        <tbody>{told.members.map((member) => (
          <tr key={member.key}><td><StateMark state={member.state} /></td><td><Link className="strong" href={`/checks/${member.key}`}>{member.name}</Link></td><td>{STATE_NAMES[member.state]}</td><td className="quiet"><Moment at={member.since} now={now} /></td></tr>
        ))}</tbody>
      </table>
    )
  }
  if (told.numbers.length === 0) return <p className="quiet pad">No number has come yet.</p>
  return (
    <table className="table">
      <thead><tr><th>Number</th><th>The last {told.over}</th><th className="number">Now</th></tr></thead>
      <tbody>{told.numbers.map((line) => (
        <tr key={line.name}><td className="code" style={{ overflowWrap: 'anywhere', fontWeight: line.isJudged ? 700 : undefined }}>{line.name}</td><td style={{ width: WIDTH + 24 }}><Spark past={line.past} /></td><td className="number" style={{ whiteSpace: 'nowrap' }}>{line.value}</td></tr>
      ))}</tbody>
    </table>
  )
}
