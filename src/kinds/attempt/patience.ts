import type { Milliseconds } from '../../core/units'

/** The time that one try may take. */
export interface Patience {
  /** Aborts when the time is over, and when the try has ended. */
  signal: AbortSignal
  /** Whether the time ran out, rather than the try ending by itself. */
  isOver: () => boolean
  /** Ends the try: whatever still runs for it is told to stop. */
  end: () => void
}

/** Why a try's signal aborts; made once, since a reason made at every try costs more than the rest of its end. */
const OVER = new Error('the try is over')

/** Begins the time of a try. */
export function patience(wait: Milliseconds): Patience {
  const abort = new AbortController()
  let isOver = false
  const timer = setTimeout(() => {
    isOver = true
    abort.abort(OVER)
  }, wait)
  return {
    signal: abort.signal,
    isOver: () => isOver,
    end: () => {
      clearTimeout(timer)
      abort.abort(OVER)
    }
  }
}
