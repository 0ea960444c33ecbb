import { PHASES, type Phase, type PhaseTimes } from '@/core/observation'
import { speakMilliseconds } from '@/core/definitions/duration'

/** Where the time of one observation went, on a scale shared by all bars beside it. */
export function PhaseBar({ phases, most, width = 200 }: { phases: PhaseTimes; most: number; width?: number }) {
  let x = 0
  const said = PHASES.filter((phase) => phases[phase] !== undefined).map((phase) => `${phase} ${speakMilliseconds(phases[phase]!)}`).join(', ')
  return (
    <svg width={width} height={10} role="img" aria-label={said} style={{ display: 'block', maxWidth: '100%' }}>
      <title>{said}</title>
      {PHASES.map((phase) => {
        const time = phases[phase]
        if (time === undefined) return null
        const wide = Math.max(1, (time / most) * width)
        const left = x
        x += wide
        return <rect key={phase} x={left} y={0} width={wide} height={10} fill={`var(--${phase})`} />
      })}
    </svg>
  )
}

const NAMES: Partial<Record<Phase, string>> = { lookup: 'name lookup', greet: 'greeting', tls: 'TLS', login: 'sign-in', send: 'sending', remove: 'clean-up' }

/** What the colours of phases mean. */
export function PhaseKey({ phases }: { phases: readonly Phase[] }) {
  return (
    <span className="row small quiet" style={{ gap: 12 }}>
      {PHASES.filter((phase) => phases.includes(phase)).map((phase) => (
        <span key={phase} className="row" style={{ gap: 5 }}>
          <span aria-hidden style={{ width: 9, height: 9, borderRadius: 2, background: `var(--${phase})` }} />{NAMES[phase] ?? phase}
        </span>
      ))}
    </span>
  )
}
