'use client'

import { Area, AreaChart, CartesianGrid, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { speakMilliseconds } from '@/core/definitions/duration'
import { speakShare } from '@/core/definitions/share'
import type { DistributionPoint } from '@/core/sketches/distributions'

/** Two distributions of times on one logarithmic scale: what was before as a dashed outline, what is now filled. */
export default function TwoDistributions({ points, names = ['before', 'after'], height = 220 }: { points: DistributionPoint[]; names?: [string, string]; height?: number }) {
  return (
    <ResponsiveContainer width="100%" height={height} initialDimension={{ width: 740, height }}>
      <AreaChart data={points} margin={{ top: 10, right: 12, bottom: 0, left: 0 }} accessibilityLayer>
        <CartesianGrid vertical={false} stroke="var(--line)" />
        <XAxis dataKey="at" type="number" scale="log" domain={['dataMin', 'dataMax']} tickFormatter={(value: number) => speakMilliseconds(value)} tick={{ fill: 'var(--muted)', fontSize: 12 }} stroke="var(--line)" />
        <YAxis width={48} tick={{ fill: 'var(--muted)', fontSize: 12 }} stroke="none" tickFormatter={speakShare} />
        <Area dataKey="after" name={names[1]} stroke="var(--series-1)" strokeWidth={2} fill="var(--series-1)" fillOpacity={0.16} isAnimationActive={false} />
        <Area dataKey="before" name={names[0]} stroke="var(--series-6)" strokeWidth={2} strokeDasharray="5 3" fill="none" isAnimationActive={false} />
        <Tooltip isAnimationActive={false} contentStyle={{ background: 'var(--card)', border: '1px solid var(--line)', borderRadius: 6, fontSize: 13 }} labelFormatter={(at) => `near ${speakMilliseconds(Number(at))}`} formatter={(value, name) => [`${speakShare(Number(value))} of tries`, name]} />
      </AreaChart>
    </ResponsiveContainer>
  )
}
