'use client'

import { useRouter } from 'next/navigation'
import { clusters, viewOf } from '@/core/places/clusters'
import { withWhere, type Question } from '@/core/findout/question'
import { writeQuestion } from '@/core/findout/question-address'
import { METRIC_WORDS } from '@/core/findout/question-sentence'
import { placeLabels } from '@/core/places/labels'
import { speakStatistic } from '@/core/findout/speak-statistic'
import { useFocus } from './focus'
import { useZone } from '../marks/zone'

export interface PlaceAnswer { key: string; place: string; network: string; country: string; latitude: number; longitude: number; tries: number; fails: number; value?: number; before?: number }

const [WIDTH, HEIGHT] = [1180, 430]
const LINE = 17
/** How wide a character of a label is, about. */
const CHARACTER = 6.9
/** What a location sees in the stretch is bad from so many times what it saw before it. */
const WORSE = 1.4

/** Every location where it lies, as large as its value, with its networks beside it: one place may be seen through several. A press keeps one. */
export function PlacesMap({ land, places, question, when }: { land: string; places: PlaceAnswer[]; question: Question; when: string }) {
  const router = useRouter()
  const zone = useZone()
  const { group: focused, focus } = useFocus()
  const isShare = question.statistic === 'share failing'
  const metric = isShare ? 'share failing' : question.metric
  const view = viewOf(places, WIDTH / HEIGHT)
  const x = (longitude: number) => ((longitude - view.left) / view.width) * WIDTH
  const y = (latitude: number) => ((90 - latitude - view.top) / view.height) * HEIGHT
  const most = Math.max(...places.map((each) => each.value ?? 0), 1e-9)
  // far places are always slower: bad is what differs from before, or fails
  const isBad = ({ value = 0, before, tries, fails }: PlaceAnswer) => (before !== undefined && (isShare ? value > before + 0.05 : value > WORSE * before)) || fails / Math.max(1, tries) > 0.1
  const groupOf = (each: PlaceAnswer) => ({ location: each.key, network: each.network, country: each.country } as Record<string, string>)[question.by]
  const sites = clusters(places, view.width / 60)
  const said = (each: PlaceAnswer, isAlone: boolean) => `${isAlone ? each.place.split(',')[0] : each.network} ${speakStatistic(each.value, metric)}${each.before !== undefined && isBad(each) ? `, before ${speakStatistic(each.before, metric)}` : ''}${each.fails > 0 && !isShare ? `, ${each.fails} failed` : ''}`
  const marks = sites.map(({ things, latitude, longitude }) => ({
    x: x(longitude), y: y(latitude), radius: 4 + 12 * Math.sqrt(Math.max(...things.map((each) => each.value ?? 0)) / most),
    width: Math.max(...things.map((each) => CHARACTER * said(each, things.length === 1).length)), height: LINE * things.length
  }))
  const labels = placeLabels(marks, WIDTH, HEIGHT)
  const keep = (each: PlaceAnswer) => router.push(`/find-out?${writeQuestion({ ...withWhere(question, 'location', each.key, false), view: 'line' }, zone)}`, { scroll: false })
  return (
    <div className="card" style={{ padding: '10px 12px' }}>
      <div className="apart small quiet" style={{ minHeight: 24 }}><span>{isShare ? 'the share of tries that failed' : `${question.statistic} of ${METRIC_WORDS[question.metric]}`}, {when}; the larger the mark, the worse</span><span>A press keeps one location</span></div>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} style={{ width: '100%', display: 'block' }} role="group" aria-label={`A map of ${places.length} locations with what each sees`}>
        <g transform={`scale(${WIDTH / view.width / 2} ${HEIGHT / view.height / 2}) translate(${-2 * (view.left + 180)} ${-2 * view.top})`}><path d={land} fill="var(--chip)" stroke="var(--line)" strokeWidth={view.width / 600} /></g>
        {sites.map((site, index) => {
          const [{ x: cx, y: cy, radius }, label] = [marks[index]!, labels[index]!]
          const top = label.y - ((site.things.length - 1) * LINE) / 2
          const shownFirst = [...site.things].sort((a, b) => (b.value ?? 0) - (a.value ?? 0))
          return (
            <g key={index}>
              {site.things.some(isBad) ? <rect x={cx - radius} y={cy - radius} width={2 * radius} height={2 * radius} rx={2} fill="var(--slow)" fillOpacity={0.85} /> : <circle cx={cx} cy={cy} r={radius} fill="var(--healthy)" fillOpacity={0.55} />}
              {shownFirst.map((each, line) => {
                const isFocused = focused !== undefined && focused === groupOf(each)
                return (
                  <g key={each.key} role="button" tabIndex={0} className="map-label" style={{ cursor: 'pointer' }} aria-label={`Keep ${each.place}, ${each.network}: ${speakStatistic(each.value, metric)}`} onClick={() => keep(each)} onKeyDown={(event) => { if (event.key === 'Enter') keep(each) }} onMouseEnter={() => focus(groupOf(each))} onMouseLeave={() => focus(undefined)}>
                    <title>{`${each.place}, ${each.network}: ${each.tries} tries, ${each.fails} failed`}</title>
                    <text x={label.x} y={top + line * LINE + 4} textAnchor={label.side === 'left' ? 'end' : 'start'} fontSize={13} fontWeight={isBad(each) || isFocused ? 700 : 400} fill={isBad(each) ? 'var(--slow-text)' : 'var(--ink)'} stroke="var(--card)" strokeWidth={3} paintOrder="stroke" textDecoration={isFocused ? 'underline' : undefined}>
                      {said(each, site.things.length === 1)}
                    </text>
                  </g>
                )
              })}
            </g>
          )
        })}
      </svg>
    </div>
  )
}
