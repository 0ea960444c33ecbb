/** What is left of an error budget; a used-up one says by how much. */
export function BudgetBar({ left }: { left: number }) {
  const shown = Math.max(0, Math.min(1, left))
  const colour = left <= 0 ? 'var(--down)' : left < 0.4 ? 'var(--slow)' : 'var(--healthy)'
  return (
    <div>
      <div aria-hidden style={{ height: 6, width: 84, borderRadius: 3, background: 'var(--chip)', overflow: 'hidden' }}><div style={{ height: 6, width: `${shown * 100}%`, background: colour }} /></div>
      <div className="quiet small">{left < 0 ? `used ${Math.round((1 - left) * 100)}%` : `${Math.round(left * 100)}%`}</div>
    </div>
  )
}
