'use client'

import { Area, CartesianGrid, ComposedChart, Line, ReferenceArea, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { speakMilliseconds } from '@/core/definitions/duration'
import { speakMoment, speakTime } from '@/core/time/zoned'
import { useZone } from '../marks/zone'

export interface ResponsePoint { at: number; p95: number | null; p50: number | null; band: [number, number] | null }
export interface ResponseChartProps { points: ResponsePoint[]; from: number; to: number; outages: { from: number; to: number }[]; marks?: { at: number; title: string }[]; slowAbove?: number }

/** Response time against what is usual for the hour; outages are shaded. */
export default function ResponseChart({ points, from, to, outages, marks = [], slowAbove }: ResponseChartProps) {
  const zone = useZone()
  const isLong = to - from > 2 * 86_400_000
  const most = Math.max(...points.map((point) => Math.max(point.p95 ?? 0, point.band?.[1] ?? 0)), 1)
  const showsLimit = slowAbove !== undefined && slowAbove < most * 4
  return (
    <ResponsiveContainer width="100%" height={190} initialDimension={{ width: 1190, height: 190 }}>
      <ComposedChart data={points} margin={{ top: 10, right: 12, bottom: 0, left: 0 }} accessibilityLayer>
        <CartesianGrid vertical={false} stroke="var(--line)" />
        <XAxis dataKey="at" type="number" domain={[from, to]} scale="time" tickFormatter={(at: number) => (isLong ? speakMoment(at, zone, to).split(',')[0]! : speakTime(at, zone))} tick={{ fill: 'var(--muted)', fontSize: 12 }} stroke="var(--line)" minTickGap={60} />
        <YAxis width={62} tick={{ fill: 'var(--muted)', fontSize: 12 }} stroke="none" domain={[0, showsLimit ? Math.max(most, slowAbove * 1.15) : 'auto']} tickFormatter={(value: number) => `${Math.round(value)}\u00a0ms`} />
        {outages.map((outage) => <ReferenceArea key={outage.from} x1={outage.from} x2={outage.to} fill="var(--down)" fillOpacity={0.35} ifOverflow="hidden" />)}
        <Area dataKey="band" stroke="none" fill="var(--band)" isAnimationActive={false} connectNulls={false} name="usual" />
        {showsLimit && <ReferenceLine y={slowAbove} stroke="var(--slow)" strokeDasharray="4 3" label={{ value: `slow above ${speakMilliseconds(slowAbove)}`, position: 'insideTopLeft', fill: 'var(--slow-text)', fontSize: 12 }} />}
        {marks.map((mark) => <ReferenceLine key={`${mark.at}/${mark.title}`} x={mark.at} stroke="var(--planned)" label={{ value: mark.title.slice(0, 40), position: 'insideTopLeft', fill: 'var(--planned)', fontSize: 12 }} />)}
        <Line dataKey="p95" stroke="var(--action)" strokeWidth={2} dot={false} isAnimationActive={false} connectNulls={false} name="p95" />
        <Tooltip isAnimationActive={false} contentStyle={{ background: 'var(--card)', border: '1px solid var(--line)', borderRadius: 6, fontSize: 13 }} labelFormatter={(at) => speakMoment(Number(at), zone, to)}
          formatter={(value, name) => [Array.isArray(value) ? `${speakMilliseconds(Number(value[0]))} to ${speakMilliseconds(Number(value[1]))}` : speakMilliseconds(Number(value)), name]} />
      </ComposedChart>
    </ResponsiveContainer>
  )
}
