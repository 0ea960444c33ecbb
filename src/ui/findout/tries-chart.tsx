'use client'

import { Button } from '@mantine/core'
import { useElementSize } from '@mantine/hooks'
import { useMantineColorScheme } from '@mantine/core'
import { useRouter } from 'next/navigation'
import { useEffect, useMemo, useRef, useState } from 'react'
import { decodeDots, type Dots } from '@/core/findout/dots'
import type { Question } from '@/core/findout/question'
import { dotsAddress, writeQuestion, writeSpan } from '@/core/findout/question-address'
import type { Heat } from '@/core/sketches/heat'
import { METRIC_WORDS } from '@/core/findout/question-sentence'
import { speakClock, speakMoment, speakSpan, speakTime } from '@/core/time/zoned'
import { speakLength } from '@/core/definitions/duration'
import { useZone } from '../marks/zone'
import { atOf, drawDots, drawHeat, drawHeatCells, drawLine, nearestDot, shade, placeDots, spreadLabels, ticks, xOf, yOf, type Frame } from './draw-chart'
import { SERIES, useFocus } from './focus'
import { selectPercentile } from '@/core/findout/select'
import { speakStatistic, unitOf } from '@/core/findout/speak-statistic'
import type { RankedGroup } from './ranking'

export interface ChartMark { at: number; title: string }
export interface ChartProps {
  question: Question
  /** What the question is about, in words. */
  about: string
  groups: RankedGroup[]
  range: { from: number; to: number }
  step: number
  stretch?: { from: number; to: number }
  marks: ChartMark[]
  /** Names of checks and locations by their numbers, for what a dot says. */
  checks: [number, { key: string; name: string }][]
  locations: [number, { key: string; name: string }][]
  /** The moment the page was made for; the dots are asked for the same. */
  now: number
  hasDots: boolean
  /** How often each time was seen, where there are no dots to count. */
  heat?: Heat
}

const HEIGHT = 270
/** The line of what a group is set beside is broken. */
const BESIDE = [5, 4]

/** Lines of the statistic over every single try as a dot. A drag picks a stretch; a dot opens its observation; arrow keys move a cursor. */
export function TriesChart({ question, about, groups, range, step, stretch, marks, checks, locations, now, hasDots, heat }: ChartProps) {
  const zone = useZone()
  const router = useRouter()
  const { colorScheme } = useMantineColorScheme()
  const { group: focused, focus } = useFocus()
  const { ref, width } = useElementSize()
  const base = useRef<HTMLCanvasElement>(null)
  const over = useRef<HTMLCanvasElement>(null)
  const [dots, setDots] = useState<Dots>()
  const [lost, setLost] = useState(false)
  const [hover, setHover] = useState<{ x: number; y: number; dot: number }>()
  const [drag, setDrag] = useState<{ from: number; to: number }>()
  const [cursor, setCursor] = useState<number>()
  const address = dotsAddress(question, zone, now, groups.map((each) => each.key))
  // shares have no times to be counted
  const isHeat = question.view === 'heat' && question.statistic !== 'share failing'
  const metric = question.statistic === 'share failing' ? 'share failing' : question.metric
  const caption = `${question.statistic === 'share failing' ? 'share failing' : `${question.statistic} of ${METRIC_WORDS[question.metric]}`} for ${about} by ${question.by}, ${speakSpan(range, zone, now)}`

  useEffect(() => {
    if (!hasDots) return setDots(undefined)
    const stop = new AbortController()
    setLost(false)
    fetch(address, { signal: stop.signal })
      .then(async (answer) => (answer.ok ? setDots(decodeDots(await answer.arrayBuffer())) : setLost(true)))
      .catch(() => { if (!stop.signal.aborted) setLost(true) })
    return () => stop.abort()
  }, [address, hasDots])

  const frame = useMemo((): Frame => {
    const lines = groups.flatMap((each) => [...each.line, ...(each.besideLine ?? [])]).filter((each) => each !== null)
    const values = question.statistic === 'share failing' || !dots ? new Float32Array(0) : dots.value.subarray(0, dots.count).filter((each) => !Number.isNaN(each))
    // where only the heat is drawn, lines do not stretch it
    const most = isHeat && heat ? heat.most : Math.max(lines.reduce((found, each) => Math.max(found, each), 0) * 1.12, selectPercentile(values, 0.998) ?? 0, unitOf(metric) === 'share' ? 0.05 : 5)
    return { width: Math.max(320, width), height: HEIGHT, left: 52, right: width > 700 && !isHeat ? 150 : 12, top: 14, bottom: 34, ...range, most }
  }, [groups, dots, heat, width, range, question.statistic, isHeat, metric])
  const placed = useMemo(() => (dots && question.statistic !== 'share failing' ? placeDots(dots, frame) : undefined), [dots, frame, question.statistic])

  useEffect(() => {
    const canvas = base.current
    if (!canvas || width === 0) return
    const { context, colour } = prepare(canvas, frame)
    drawAxes(context, frame, metric, zone, colour, marks)
    if (stretch) shade(context, frame, stretch, colour('--action'), 0.09)
    if (isHeat && heat) drawHeatCells(context, frame, heat, step, colour('--action'))
    else if (isHeat && dots) drawHeat(context, frame, dots, colour('--action'))
    else if (dots && placed) for (const group of [255, ...groups.map((_, place) => groups.length - 1 - place)]) drawDots(context, dots, placed, group, colour(SERIES[group] ?? '--muted'), 0.4, colour('--down'))
    if (!isHeat) [...groups].reverse().forEach((each) => { const place = groups.indexOf(each); drawLine(context, frame, each.line, step, colour(SERIES[place] ?? '--muted'), place === 0 ? 2.6 : 1.6) })
    const [first] = groups
    if (!isHeat && first?.besideLine) drawLine(context, frame, first.besideLine, step, colour(SERIES[0]!), 1.6, BESIDE)
    if (dots) performance.mark('dots drawn', { detail: dots.count })
    if (frame.right > 100 && !isHeat) drawLabels(context, frame, groups, colour)
  }, [frame, dots, heat, placed, groups, step, stretch, range, isHeat, metric, zone, marks, width, colorScheme])

  useEffect(() => {
    const canvas = over.current
    if (!canvas || width === 0) return
    const { context, colour } = prepare(canvas, frame)
    const place = groups.findIndex((each) => each.key === focused)
    if (place >= 0 && !isHeat) {
      context.fillStyle = colour('--card')
      context.globalAlpha = 0.72
      context.fillRect(frame.left, 0, frame.width - frame.left - frame.right, frame.height - frame.bottom + 9)
      context.globalAlpha = 1
      if (dots && placed) drawDots(context, dots, placed, place, colour(SERIES[place] ?? '--muted'), 0.75, colour('--down'))
      drawLine(context, frame, groups[place]!.line, step, colour(SERIES[place] ?? '--muted'), 2.8)
      if (groups[place]!.besideLine) drawLine(context, frame, groups[place]!.besideLine!, step, colour(SERIES[place] ?? '--muted'), 1.6, BESIDE)
    }
    const x = hover?.x ?? (cursor === undefined ? undefined : xOf(frame, cursor))
    if (x !== undefined) {
      context.strokeStyle = colour('--muted')
      context.globalAlpha = 0.6
      context.beginPath()
      context.moveTo(x, frame.top)
      context.lineTo(x, frame.height - frame.bottom)
      context.stroke()
      context.globalAlpha = 1
    }
    if (hover && hover.dot >= 0 && placed) {
      context.strokeStyle = colour('--ink')
      context.lineWidth = 1.5
      context.strokeRect(placed.x[hover.dot]! - 4, placed.y[hover.dot]! - 4, 8, 8)
    }
    if (drag) shade(context, frame, { from: Math.min(drag.from, drag.to), to: Math.max(drag.from, drag.to) }, colour('--action'), 0.16)
  }, [frame, focused, hover, drag, cursor, dots, placed, groups, step, isHeat, width, colorScheme])

  const ask = (from: number, to: number) => router.push(`/find-out?${writeQuestion({ ...question, stretch: { from: Math.floor(from / 1000) * 1000, to: Math.ceil(to / 1000) * 1000 } }, zone)}`, { scroll: false })
  const pointAt = (event: React.PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect()
    const [x, y] = [event.clientX - box.left, event.clientY - box.top]
    return { x, y, at: Math.max(range.from, Math.min(range.to, atOf(frame, x))) }
  }
  const open = (dot: number) => {
    const [check, location] = [new Map(checks).get(dots!.check[dot]!), new Map(locations).get(dots!.location[dot]!)]
    if (check && location) router.push(`/observations/${check.key}/${location.key}/${range.from + dots!.at[dot]!}`)
  }
  const readout = hover ? (hover.dot >= 0 && dots ? speakDot(dots, hover.dot) : speakAt(atOf(frame, hover.x))) : cursor === undefined ? '' : speakAt(cursor)

  function speakDot(all: Dots, dot: number): string {
    const [check, location] = [new Map(checks).get(all.check[dot]!), new Map(locations).get(all.location[dot]!)]
    const value = all.value[dot]!
    return `${speakClock(range.from + all.at[dot]!, zone)}: ${check?.name ?? 'a removed check'} from ${location?.name ?? 'a removed location'}, ${Number.isNaN(value) ? 'failed' : speakStatistic(value, metric)}. Click opens it.`
  }
  function speakAt(at: number): string {
    const place = Math.floor((at - range.from) / step)
    const said = groups.slice(0, 5).flatMap((each) => (each.line[place] == null ? [] : [`${each.name} ${speakStatistic(each.line[place]!, metric)}`]))
    return `${speakMoment(at, zone, now)}: ${said.length === 0 ? 'nothing was observed' : said.join(', ')}`
  }
  const onKey = (event: React.KeyboardEvent) => {
    const move = { ArrowLeft: -step, ArrowRight: step }[event.key]
    if (move !== undefined) {
      const next = Math.max(range.from, Math.min(range.to - 1, (cursor ?? (range.from + range.to) / 2) + move))
      setCursor(next)
      setDrag(event.shiftKey ? { from: drag?.from ?? cursor ?? next, to: next } : undefined)
    } else if (event.key === 'Enter' && drag) ask(Math.min(drag.from, drag.to), Math.max(drag.from, drag.to))
    else if (event.key === 'Escape') {
      setDrag(undefined)
      setCursor(undefined)
    } else return
    event.preventDefault()
  }

  return (
    <div className="card" style={{ padding: '10px 12px' }}>
      <div className="apart small quiet" style={{ minHeight: 24 }}>
        <span aria-live="polite">{readout || `${metric === 'share failing' ? `the share of tries that failed, over ${speakLength(step)} a line` : isHeat ? `${unitOf(metric)}; the darker, the more often it was seen` : `${unitOf(metric)}; ${hasDots ? 'every observation a dot, ' : ''}${question.statistic} of ${METRIC_WORDS[question.metric]} over ${speakLength(step)} a line`}${groups.some((each) => each.besideLine) ? '; broken, what it is set beside' : ''}${lost ? '; the dots could not be fetched' : ''}`}</span>
        <span>Drag a stretch to ask what sets it apart</span>
      </div>
      <div ref={ref} style={{ position: 'relative', height: HEIGHT, touchAction: 'pan-y' }} role="img" tabIndex={0} aria-label={`${caption}; arrow keys read it, with Shift they pick a stretch`} onKeyDown={onKey}
        onPointerDown={(event) => { if (event.button !== 0) return; event.currentTarget.setPointerCapture(event.pointerId); const { at } = pointAt(event); setDrag({ from: at, to: at }) }}
        onPointerMove={(event) => {
          const { x, y, at } = pointAt(event)
          const dot = placed ? nearestDot(placed.index, placed, x, y) : -1
          setHover({ x, y, dot })
          if (drag) setDrag({ ...drag, to: at })
          else {
            const group = dot >= 0 ? groups[dots!.group[dot]!]?.key : groups[nearestLine(groups, frame, step, x, y)]?.key
            if (group !== focused) focus(group)
          }
        }}
        onPointerUp={(event) => {
          const { x, y } = pointAt(event)
          if (!drag) return
          const [from, to] = [Math.min(drag.from, drag.to), Math.max(drag.from, drag.to)]
          setDrag(undefined)
          if (xOf(frame, to) - xOf(frame, from) > 6) return ask(from, to)
          const dot = placed ? nearestDot(placed.index, placed, x, y) : -1
          if (dot >= 0) open(dot)
        }}
        onPointerLeave={() => { setHover(undefined); if (!drag) focus(undefined) }}>
        <canvas ref={base} style={{ position: 'absolute', inset: 0 }} /><canvas ref={over} style={{ position: 'absolute', inset: 0, pointerEvents: 'none' }} />
      </div>
      <div className="row small" style={{ justifyContent: 'flex-end' }}>
        {stretch && <><span className="quiet">Looked at: {speakSpan(stretch, zone, now)}</span><button type="button" className="plain" onClick={() => router.push(`/find-out?${writeQuestion({ ...question, range: { from: stretch.from - (stretch.to - stretch.from), to: stretch.to + (stretch.to - stretch.from) }, stretch }, zone)}`)}>Look closer</button><button type="button" className="plain" onClick={() => router.push(`/find-out?${writeQuestion({ ...question, stretch: 'none' }, zone)}`, { scroll: false })}>Leave it</button></>}
        <Button variant="subtle" size="compact-sm" onClick={() => save(asPng(base.current!, caption), `find-out-${writeSpan(range, zone)}.png`)}>PNG</Button>
        <Button variant="subtle" size="compact-sm" onClick={() => save(Promise.resolve(new Blob([asCsv(groups, range, step)], { type: 'text/csv' })), `find-out-${writeSpan(range, zone)}.csv`)}>CSV</Button>
      </div>
    </div>
  )
}

/** Makes a canvas ready to be drawn on anew, in the colours of the theme. */
function prepare(canvas: HTMLCanvasElement, { width, height }: Frame): { context: CanvasRenderingContext2D; colour: (name: string) => string } {
  const scale = window.devicePixelRatio || 1
  if (canvas.width !== Math.round(width * scale) || canvas.height !== Math.round(height * scale)) {
    canvas.width = Math.round(width * scale)
    canvas.height = Math.round(height * scale)
    canvas.style.width = `${width}px`
    canvas.style.height = `${height}px`
  }
  const context = canvas.getContext('2d')!
  context.setTransform(scale, 0, 0, scale, 0, 0)
  context.clearRect(0, 0, width, height)
  const style = getComputedStyle(document.documentElement)
  return { context, colour: (name) => style.getPropertyValue(name).trim() }
}

const FONT = "12px 'Atkinson Hyperlegible Next', sans-serif"

function drawAxes(context: CanvasRenderingContext2D, frame: Frame, metric: string, zone: string, colour: (name: string) => string, marks: ChartMark[]): void {
  context.font = FONT
  context.textBaseline = 'middle'
  for (const value of ticks(frame.most)) {
    const y = Math.round(yOf(frame, value)) + 0.5
    context.strokeStyle = colour('--line')
    context.lineWidth = 1
    context.beginPath()
    context.moveTo(frame.left, y)
    context.lineTo(frame.width - frame.right, y)
    context.stroke()
    context.fillStyle = colour('--muted')
    context.textAlign = 'right'
    context.fillText(unitOf(metric) === 'share' ? `${Math.round(100 * value)}%` : String(Math.round(value)), frame.left - 8, y)
  }
  context.textAlign = 'center'
  const length = frame.to - frame.from
  const every = [60_000, 300_000, 600_000, 900_000, 1_800_000, 3_600_000, 7_200_000, 10_800_000, 21_600_000, 43_200_000, 86_400_000, 172_800_000, 432_000_000].find((each) => length / each <= 9) ?? 864_000_000
  for (let at = Math.ceil(frame.from / every) * every; at < frame.to; at += every) {
    const said = every >= 43_200_000 ? speakMoment(at, zone, frame.to + 7 * 86_400_000).split(',')[0]! : length > 86_400_000 ? speakMoment(at, zone, frame.to) : speakTime(at, zone)
    context.fillText(said, xOf(frame, at), frame.height - 10)
  }
  const inOrder = [...marks].sort((a, b) => a.at - b.at)
  inOrder.forEach((mark, place) => {
    const x = Math.round(xOf(frame, mark.at)) + 0.5
    // a title ends where the next one begins
    const next = inOrder[place + 1]
    const room = (next ? xOf(frame, next.at) : frame.width) - x - 10
    context.strokeStyle = context.fillStyle = colour('--planned')
    context.beginPath()
    context.moveTo(x, frame.top - 6)
    context.lineTo(x, frame.height - frame.bottom)
    context.stroke()
    context.textAlign = 'left'
    if (room > 24) context.fillText(fitted(context, mark.title.slice(0, 40), room), x + 4, frame.top - 2)
    context.textAlign = 'center'
  })
}

function drawLabels(context: CanvasRenderingContext2D, frame: Frame, groups: RankedGroup[], colour: (name: string) => string): void {
  const wanted = groups.slice(0, 12).flatMap((each) => { const last = each.line.findLast((value) => value !== null); return last == null ? [] : [{ key: each.key, y: yOf(frame, last) }] })
  context.textAlign = 'left'
  for (const [key, y] of spreadLabels(wanted, frame.top + 4, frame.height - frame.bottom)) {
    const place = groups.findIndex((each) => each.key === key)
    context.fillStyle = colour(SERIES[place] ?? '--muted')
    context.font = `600 ${FONT}`
    context.fillText(fitted(context, groups[place]!.name, frame.right - 14), frame.width - frame.right + 8, y)
  }
}

function fitted(context: CanvasRenderingContext2D, text: string, most: number): string {
  let shown = text
  while (shown.length > 4 && context.measureText(shown).width > most) shown = `${shown.slice(0, -2).trimEnd()}…`
  return shown
}

function nearestLine(groups: RankedGroup[], frame: Frame, step: number, x: number, y: number): number {
  const place = Math.floor((atOf(frame, x) - frame.from) / step)
  let [best, distance] = [-1, 12]
  groups.forEach((each, index) => {
    const value = each.line[place]
    if (value == null) return
    const away = Math.abs(yOf(frame, value) - y)
    if (away < distance) [best, distance] = [index, away]
  })
  return best
}

/** The chart with what it shows written over it: a picture is handed on without the page around it. */
function asPng(canvas: HTMLCanvasElement, caption: string): Promise<Blob | null> {
  const scale = canvas.width / Number.parseFloat(canvas.style.width)
  const room = Math.round(30 * scale)
  const copy = document.createElement('canvas')
  copy.width = canvas.width
  copy.height = canvas.height + room
  const context = copy.getContext('2d')!
  context.fillStyle = getComputedStyle(document.documentElement).getPropertyValue('--card')
  context.fillRect(0, 0, copy.width, copy.height)
  context.drawImage(canvas, 0, room)
  context.fillStyle = getComputedStyle(document.documentElement).getPropertyValue('--ink')
  context.font = `600 ${13 * scale}px 'Atkinson Hyperlegible Next', sans-serif`
  context.fillText(fitted(context, caption, copy.width - 24 * scale), 12 * scale, 19 * scale)
  return new Promise((resolve) => copy.toBlob(resolve))
}

function asCsv(groups: RankedGroup[], range: { from: number }, step: number): string {
  const quoted = (text: string) => (/[",\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text)
  const points = groups[0]?.line.length ?? 0
  const lines = groups.flatMap((each) => [{ name: each.name, line: each.line }, ...(each.besideLine ? [{ name: `${each.name}, set beside`, line: each.besideLine }] : [])])
  return [['time', ...lines.map((each) => quoted(each.name))].join(','), ...Array.from({ length: points }, (_, place) => [new Date(range.from + place * step).toISOString(), ...lines.map((each) => each.line[place] ?? '')].join(','))].join('\n')
}

async function save(made: Promise<Blob | null>, name: string): Promise<void> {
  const blob = await made
  if (!blob) return
  const link = document.createElement('a')
  link.href = URL.createObjectURL(blob)
  link.download = name.replace(/:/g, '')
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}
