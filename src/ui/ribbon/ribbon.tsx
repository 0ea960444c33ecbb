'use client'

import { useElementSize } from '@mantine/hooks'
import { drawBlocks, type Block, type Trouble } from '@/core/ribbons/ribbon'
import { speakMoment, speakTime } from '@/core/time/zoned'
import { speakLength } from '@/core/definitions/duration'
import { useZone } from '../marks/zone'

export const TROUBLE_WORDS: Record<Trouble, string> = { fail: 'failing', slow: 'slow', warn: 'warning', silent: 'no data', planned: 'planned work' }
const FILLS: Record<Trouble, string> = { fail: 'var(--down)', slow: 'url(#hatch-slow)', warn: 'url(#hatch-slow)', silent: 'none', planned: 'url(#hatch-planned)' }

/** The hatchings that blocks use; once in a page. */
export function RibbonPatterns() {
  const hatch = (id: string, colour: string) => (
    <pattern id={id} width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <rect width="5" height="5" fill="var(--card)" /><rect width="2.6" height="5" fill={colour} />
    </pattern>
  )
  return <svg width="0" height="0" aria-hidden style={{ position: 'absolute' }}><defs>{hatch('hatch-slow', 'var(--slow)')}{hatch('hatch-planned', 'var(--planned)')}</defs></svg>
}

export interface RibbonProps {
  blocks: Block[]
  range: { from: number; to: number }
  now: number
  /** Before this there is nothing to say; the hairline begins here. */
  begins?: number
  height?: number
  label: string
  /** Moments of tries between two scheduled ones. */
  notches?: number[]
}

/** State over time: a hairline from which trouble rises. The height of a block is the share of locations affected. */
export function Ribbon({ blocks, range, now, begins, height = 20, label, notches = [] }: RibbonProps) {
  const { ref, width: measured } = useElementSize()
  const zone = useZone()
  const width = measured || 352
  const scale = width / (range.to - range.from)
  const x = (at: number) => Math.max(0, Math.min(width, (at - range.from) * scale))
  const drawn = drawBlocks(blocks, range, width, height - 2)
  const silent = drawn.filter((block) => block.kind === 'silent' && block.share > 0.5)
  const troubled = drawn.filter((block) => block.kind !== 'silent' && block.kind !== 'warn')
  const said = troubled.length === 0 ? `${label}: no trouble` : `${label}: ${troubled.slice(0, 12).map((block) => `${TROUBLE_WORDS[block.kind]} ${speakTime(block.from, zone)} to ${speakTime(block.to, zone)}`).join('; ')}`
  return (
    <div ref={ref} style={{ width: '100%', minWidth: 60 }}>
      <svg width={width} height={height + 6} role="img" aria-label={said} style={{ display: 'block' }}>
        <line x1={x(begins ?? range.from)} x2={x(Math.min(now, range.to))} y1={height - 1} y2={height - 1} stroke="var(--healthy)" strokeWidth={1.5} />
        {silent.map((block) => (
          <g key={`silent${block.from}`}>
            <line x1={block.x} x2={block.x + block.width} y1={height - 1} y2={height - 1} stroke="var(--card)" strokeWidth={3} />
            <line x1={block.x} x2={block.x + block.width} y1={height - 1} y2={height - 1} stroke="var(--muted)" strokeWidth={1.5} strokeDasharray="1.5 3"><title>{`no data, ${speakMoment(block.from, zone, now)} to ${speakTime(block.to, zone)}`}</title></line>
          </g>
        ))}
        {troubled.map((block) => (
          <rect key={`${block.kind}${block.from}`} x={block.x} width={block.width} height={block.kind === 'planned' ? 5 : block.height} y={block.kind === 'planned' ? height : height - 1 - block.height} fill={FILLS[block.kind]}>
            <title>{`${TROUBLE_WORDS[block.kind]} ${speakMoment(block.from, zone, now)} to ${speakTime(block.to, zone)} (${speakLength(block.to - block.from)}), up to ${Math.max(1, Math.round(block.share * 100))}% of locations`}</title>
          </rect>
        ))}
        {notches.map((at) => <rect key={at} x={x(at) - 0.75} y={1} width={1.5} height={height * 0.55} fill="var(--card)" />)}
      </svg>
    </div>
  )
}
