'use client'

import { Area, AreaChart, CartesianGrid, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { speakMilliseconds } from '@/core/definitions/duration'
import type { Phase } from '@/core/observation'
import { speakMoment, speakTime } from '@/core/time/zoned'
import { useZone } from '../marks/zone'

export interface PhasesChartProps { parts: { at: number; times: Partial<Record<Phase, number>> }[]; phases: Phase[]; from: number; to: number }

/** The middle time of every part, one on the other, in the colours parts have everywhere. */
export default function PhasesChart({ parts, phases, from, to }: PhasesChartProps) {
  const zone = useZone()
  const isLong = to - from > 2 * 86_400_000
  const points = parts.map(({ at, times }) => ({ at, ...times }))
  return (
    <ResponsiveContainer width="100%" height={200} initialDimension={{ width: 580, height: 200 }}>
      <AreaChart data={points} margin={{ top: 10, right: 12, bottom: 0, left: 0 }} accessibilityLayer>
        <CartesianGrid vertical={false} stroke="var(--line)" />
        <XAxis dataKey="at" type="number" domain={[from, to]} scale="time" tickFormatter={(at: number) => (isLong ? speakMoment(at, zone, to).split(',')[0]! : speakTime(at, zone))} tick={{ fill: 'var(--muted)', fontSize: 12 }} stroke="var(--line)" minTickGap={60} />
        <YAxis width={62} tick={{ fill: 'var(--muted)', fontSize: 12 }} stroke="none" tickFormatter={(value: number) => `${Math.round(value)}\u00a0ms`} />
        {phases.map((phase) => <Area key={phase} dataKey={phase} name={phase} stackId="time" stroke="none" fill={`var(--${phase})`} fillOpacity={0.85} isAnimationActive={false} connectNulls />)}
        <Tooltip isAnimationActive={false} contentStyle={{ background: 'var(--card)', border: '1px solid var(--line)', borderRadius: 6, fontSize: 13 }} labelFormatter={(at) => speakMoment(Number(at), zone, to)} formatter={(value, name) => [speakMilliseconds(Number(value)), name]} />
      </AreaChart>
    </ResponsiveContainer>
  )
}
