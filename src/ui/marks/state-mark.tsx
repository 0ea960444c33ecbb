import { STATE_NAMES, type CheckState } from '@/core/states/check-state'

/** The mark of a state: a shape first, a colour second. */
export function StateMark({ state, size = 12, title }: { state: CheckState; size?: number; title?: string }) {
  return (
    <svg width={size} height={size} viewBox="0 0 12 12" role="img" aria-label={title ?? STATE_NAMES[state]} style={{ flex: 'none', display: 'block' }}>
      {shapes[state]}
    </svg>
  )
}

const line = { fill: 'none', strokeWidth: 1.5 }
const shapes: Record<CheckState, React.ReactNode> = {
  up: <circle cx="6" cy="6" r="2.4" fill="var(--healthy)" />,
  slow: <><path d="M6 1 11 6 6 11 1 6Z" {...line} stroke="var(--slow)" /><path d="M1 6 6 1 11 6Z" fill="var(--slow)" /></>,
  warning: <><circle cx="6" cy="6" r="4.6" {...line} stroke="var(--slow)" /><circle cx="6" cy="6" r="1.5" fill="var(--slow)" /></>,
  suspect: <path d="M6 1.6 11 10.6H1Z" {...line} stroke="var(--down)" />,
  down: <rect x="1" y="1" width="10" height="10" rx="1.5" fill="var(--down)" />,
  planned: <><rect x="1.5" y="1.5" width="9" height="9" {...line} stroke="var(--planned)" /><path d="M1.5 10.5 10.5 1.5" {...line} stroke="var(--planned)" /></>,
  paused: <path d="M4 2V10M8 2V10" {...line} strokeWidth={2} stroke="var(--muted)" />,
  nodata: <path d="M2 6H10" {...line} strokeWidth={2} stroke="var(--muted)" />
}
