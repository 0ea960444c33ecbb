'use client'

import { useElementSize } from '@mantine/hooks'
import Link from 'next/link'
import { TROUBLE_WORDS, type Trouble } from '@/core/incidents/incident'
import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { writeSpan } from '@/core/findout/question-address'
import { speakTime } from '@/core/time/zoned'
import { useNow } from '../marks/moment'
import { useZone } from '../marks/zone'

/** Planned time of today; it hangs below the line. */
export interface DayPlan { key: string; title: string; does: 'work' | 'window'; from: number; to: number }

export interface DayBlock { id: number; name: string; trouble: Trouble; from: number; to: number | null }

const LANES = 3

/** Puts incidents into at most three lanes so that none hides another; the rest are counted. */
function lanesOf(blocks: DayBlock[], now: number): { placed: (DayBlock & { lane: number })[]; more: number } {
  const ends: number[] = []
  const placed: (DayBlock & { lane: number })[] = []
  let more = 0
  for (const block of [...blocks].sort((a, b) => a.from - b.from)) {
    let lane = ends.findIndex((end) => end <= block.from)
    if (lane === -1) lane = ends.length
    if (lane >= LANES) {
      more += 1
      continue
    }
    ends[lane] = block.to ?? now
    placed.push({ ...block, lane })
  }
  return { placed, more }
}

/** Today from midnight to midnight in the workspace's zone: now, the day's incidents and marks. A block opens its incident; a drag asks about a stretch. */
export function DayLine({ day, blocks, plans, marks, first }: { plans: DayPlan[]; marks: { id: number; at: number; title: string }[]; day: { from: number; to: number }; blocks: DayBlock[]; first: number }) {
  const router = useRouter()
  const [drag, setDrag] = useState<{ from: number; to: number }>()
  const { ref, width: measured } = useElementSize()
  const zone = useZone()
  const now = Math.min(useNow(first), day.to)
  const width = measured || 1232
  const atOf = (event: React.PointerEvent) => Math.max(day.from, Math.min(now, day.from + ((event.clientX - event.currentTarget.getBoundingClientRect().left) / width) * (day.to - day.from)))
  const x = (at: number) => ((Math.max(day.from, Math.min(day.to, at)) - day.from) / (day.to - day.from)) * width
  const { placed, more } = lanesOf(blocks, now)
  const ticks = Array.from({ length: 25 }, (_, hour) => day.from + ((day.to - day.from) * hour) / 24)
  const high = 13
  const lanes = Math.max(1, ...placed.map((block) => block.lane + 1))
  return (
    <nav aria-label="Today" style={{ borderBottom: '1px solid var(--line)', background: 'var(--card)' }}>
      <div ref={ref} style={{ margin: '0 24px', height: 33, position: 'relative', overflow: 'hidden', touchAction: 'pan-y' }}
        onPointerDown={(event) => { if (event.button === 0 && !(event.target as HTMLElement).closest('a')) setDrag({ from: atOf(event), to: atOf(event) }) }}
        onPointerMove={(event) => { if (drag) setDrag({ ...drag, to: atOf(event) }) }} onPointerLeave={() => setDrag(undefined)}
        onPointerUp={() => {
          setDrag(undefined)
          if (!drag || Math.abs(x(drag.to) - x(drag.from)) < 6) return
          const stretch = { from: Math.floor(Math.min(drag.from, drag.to) / 60_000) * 60_000, to: Math.ceil(Math.max(drag.from, drag.to) / 60_000) * 60_000 }
          const length = stretch.to - stretch.from
          router.push(`/find-out?${new URLSearchParams({ over: writeSpan({ from: stretch.from - length, to: Math.min(now, stretch.to + length) }, zone), stretch: writeSpan(stretch, zone) }).toString()}`)
        }}>
        <svg width={width} height={33} aria-hidden style={{ position: 'absolute', inset: 0 }}>
          {ticks.map((at, hour) => <line key={at} x1={x(at)} x2={x(at)} y1={hour % 3 === 0 ? 18 : 24} y2={28} stroke="var(--line)" />)}
          {ticks.filter((_, hour) => hour % (width < 700 ? 6 : 3) === 0 && hour < 24).map((at) => Math.abs(x(at) - x(now)) > 50 && <text key={at} x={x(at) + 3} y={12} fontSize={11} fill="var(--muted)">{speakTime(at, zone)}</text>)}
          <line x1={0} x2={x(now)} y1={28} y2={28} stroke="var(--ink)" strokeWidth={1.5} />
          <line x1={x(now)} x2={width} y1={28} y2={28} stroke="var(--muted)" strokeDasharray="2 3" />
          <line x1={x(now)} x2={x(now)} y1={3} y2={30} stroke="var(--ink)" strokeWidth={1.5} />
          <text x={x(now) > width - 60 ? x(now) - 5 : x(now) + 5} y={12} fontSize={11} fontWeight={700} textAnchor={x(now) > width - 60 ? 'end' : 'start'} fill="var(--ink)">{speakTime(now, zone)}</text>
          {drag && <rect x={Math.min(x(drag.from), x(drag.to))} width={Math.abs(x(drag.to) - x(drag.from))} y={4} height={25} fill="var(--action)" opacity={0.18} />}
          {marks.map((mark) => <path key={mark.id} d={`M${x(mark.at) - 4} 15h8l-4 6z`} fill="var(--planned)" />)}
          {more > 0 && <text x={x(now) - 6} y={12} fontSize={11} textAnchor="end" fill="var(--muted)">+{more}</text>}
        </svg>
        {marks.map((mark) => <Link key={mark.id} href={`/find-out/marks/${mark.id}`} aria-label={`Mark: ${mark.title}, ${speakTime(mark.at, zone)}`} title={`${mark.title}, ${speakTime(mark.at, zone)}`} style={{ position: 'absolute', left: x(mark.at) - 7, width: 14, height: 16, top: 8 }} />)}
        {plans.map((plan) => (
          <Link key={`${plan.key}/${plan.from}`} href="/planned" aria-label={`${plan.title}, ${plan.does === 'work' ? 'planned work' : 'release window'}, ${speakTime(plan.from, zone)} to ${speakTime(plan.to, zone)}`} title={`${plan.title}, ${speakTime(plan.from, zone)} to ${speakTime(plan.to, zone)}`}
            style={{ position: 'absolute', left: x(plan.from), width: Math.max(6, x(plan.to) - x(plan.from)), height: 4, bottom: 0, ...(plan.does === 'work' ? { background: 'var(--planned)' } : { border: '1px solid var(--planned)' }) }} />
        ))}
        {placed.map((block) => {
          const left = x(block.from)
          const wide = Math.max(6, x(block.to ?? now) - left)
          const laneHigh = high / lanes
          return (
            <Link key={block.id} href={`/incidents/${block.id}`} aria-label={`${block.name} ${block.to === null ? 'is' : 'was'} ${TROUBLE_WORDS[block.trouble]} from ${speakTime(block.from, zone)}`}
              title={`${block.name} ${block.to === null ? 'is' : 'was'} ${TROUBLE_WORDS[block.trouble]}, ${speakTime(block.from, zone)} to ${block.to === null ? 'now' : speakTime(block.to, zone)}`}
              style={{
                position: 'absolute', left, width: wide, height: Math.max(4, laneHigh - 1), bottom: 5 + block.lane * laneHigh,
                background: block.trouble === 'down' ? 'var(--down)' : 'repeating-linear-gradient(135deg, var(--slow) 0 3px, var(--card) 3px 5px)'
              }} />
          )
        })}
      </div>
    </nav>
  )
}
