import type { Against } from '@/core/findout/question'
import type { VerdictWords } from '@/core/findout/verdict-words'

/** What sets a stretch apart, and what it was looked for and not found in. */
export function VerdictTable({ rows, of, against }: { rows: VerdictWords['rows']; of: 'failures' | 'times'; against?: Against }) {
  return (
    <div className="card scroll"><table className="table">
      <thead><tr><th>What</th><th className="number">{of === 'failures' ? 'With it' : 'In it'}</th><th className="number">{of === 'failures' ? 'Without it' : against === 'usual' ? 'Usually' : 'Outside'}</th><th className="number">Accounts for</th></tr></thead>
      <tbody>{rows.map((row, index) => <tr key={index} style={{ background: row.strong && index === 0 ? (of === 'failures' ? 'var(--down-soft)' : 'var(--action-soft)') : undefined }}><td className={row.strong ? 'strong' : undefined}>{row.what}</td><td className="number">{row.inside}</td><td className="number">{row.outside}</td><td className={row.strong ? 'strong' : 'quiet'} style={{ textAlign: 'right', minWidth: 150 }}>{row.accounts}</td></tr>)}</tbody>
    </table></div>
  )
}
