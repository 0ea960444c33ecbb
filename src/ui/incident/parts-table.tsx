'use client'

import { Button } from '@mantine/core'
import Link from 'next/link'
import { troubleMark, type Trouble } from '@/core/incidents/incident'
import { StateMark } from '../marks/state-mark'
import { useAct } from './use-act'

interface Part { id: number; name: string; key: string; trouble: Trouble; over: boolean; why: string; sentence: string; since: string }
const SHOWN = 40

/** The checks of one incident: the one that leads it, and what each other has in common with it. */
export function PartsTable({ lead, parts, open }: { lead: { name: string; key: string; over: boolean; trouble: Trouble }; parts: Part[]; open: boolean }) {
  const { busy, run } = useAct()
  const ordered = [...parts].sort((a, b) => Number(a.over) - Number(b.over))
  return (
    <div className="card scroll"><table className="table">
      <thead><tr><th style={{ width: 30 }}><span className="sr">State</span></th><th>Check</th><th>Why it belongs here</th><th>Since</th>{open && <th><span className="sr">Take out</span></th>}</tr></thead>
      <tbody>
        <tr><td><StateMark state={lead.over ? 'up' : troubleMark(lead.trouble)} /></td><td><Link className="name" href={`/checks/${lead.key}`}>{lead.name}</Link></td><td className="quiet small">it leads: it was called first</td><td />{open && <td />}</tr>
        {ordered.slice(0, SHOWN).map((part) => (
          <tr key={part.id}>
            <td><StateMark state={part.over ? 'up' : troubleMark(part.trouble)} /></td>
            <td style={{ minWidth: 130 }}><Link className="name" href={`/checks/${part.key}`}>{part.name}</Link><div className="quiet small clip" style={{ maxWidth: 260 }} title={part.sentence}>{part.sentence}</div></td>
            <td className="small">{part.why}</td><td className="quiet small" style={{ whiteSpace: 'nowrap' }}>{part.since}</td>
            {open && <td style={{ textAlign: 'right' }}>{!part.over && <Button variant="default" size="compact-sm" disabled={busy} aria-label={`Take ${part.name} out`} onClick={() => run(part.id, 'take-out')}>Take out</Button>}</td>}
          </tr>
        ))}
        {ordered.length > SHOWN && <tr><td /><td colSpan={4} className="quiet small">and {ordered.length - SHOWN} more</td></tr>}
      </tbody>
    </table></div>
  )
}
