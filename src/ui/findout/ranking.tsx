'use client'

import { Button } from '@mantine/core'
import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { speakCount } from '@/core/definitions/count'
import { speakShare } from '@/core/definitions/share'
import { manyOf } from '@/core/findout/dimensions'
import { withWhere, type Question } from '@/core/findout/question'
import { writeQuestion } from '@/core/findout/question-address'
import { speakStatistic } from '@/core/findout/speak-statistic'
import { useZone } from '../marks/zone'
import { seriesColour, useFocus } from './focus'

export interface RankedGroup { key: string; name: string; note?: string; tries: number; fails: number; p50?: number; p95?: number; value?: number; beside?: number; loss?: number; line: (number | null)[]; besideLine?: (number | null)[] }

/** The groups, worst first; a row keeps its group (Enter) or drops it (Delete). */
export function Ranking({ groups, more, question }: { groups: RankedGroup[]; more: number; question: Question }) {
  const router = useRouter()
  const zone = useZone()
  const { group: focused, focus } = useFocus()
  const [bestFirst, setBestFirst] = useState(false)
  const rows = bestFirst ? [...groups].reverse() : groups
  const only = (key: string, not: boolean) => router.push(`/find-out?${writeQuestion(withWhere(question, question.by, key, not), zone)}`, { scroll: false })
  const hasLoss = groups.some((each) => each.loss !== undefined)
  const change = ({ value, beside }: RankedGroup) => (value === undefined || beside === undefined || beside === 0 ? undefined : value / beside - 1)
  const many = manyOf(question.by)
  return (
    <section style={{ minWidth: 0 }}>
      <div className="apart" style={{ marginBottom: 6 }}><h2>{many[0]!.toUpperCase()}{many.slice(1)}, <button type="button" className="plain" onClick={() => setBestFirst(!bestFirst)}>{bestFirst ? 'best first' : 'worst first'}</button></h2><span className="quiet small">Enter keeps one, Delete drops it</span></div>
      <div className="card scroll"><table className="table">
        <thead><tr><th>{question.by[0]!.toUpperCase()}{question.by.slice(1)}</th><th className="number">p50</th><th className="number">p95</th>{question.beside && <th className="number">{question.beside === 'week' ? 'vs last week' : question.beside === 'before' ? 'vs before' : 'vs the other'}</th>}<th className="number">Failing</th>{hasLoss && <th className="number">Loss</th>}<th className="number">Tries</th></tr></thead>
        <tbody>{rows.map((each) => {
          const moved = change(each)
          return (
            <tr key={each.key} tabIndex={0} className="opens" style={{ background: focused === each.key ? 'var(--action-soft)' : undefined }} onMouseEnter={() => focus(each.key)} onMouseLeave={() => focus(undefined)} onFocus={() => focus(each.key)} onBlur={() => focus(undefined)}
              onKeyDown={(event) => {
                if (event.key !== 'Enter' && event.key !== 'Delete' && event.key !== 'Backspace') return
                event.preventDefault()
                only(each.key, event.key !== 'Enter')
              }}>
              <td style={{ position: 'relative' }}><span aria-hidden style={{ display: 'inline-block', width: 10, height: 10, borderRadius: 5, marginRight: 8, background: seriesColour(groups.indexOf(each)) }} /><b>{each.name}</b> {each.note && <span className="quiet small">{each.note}</span>}
                <span className="keep"><Button variant="subtle" size="compact-xs" tabIndex={-1} onClick={() => only(each.key, false)}>only</Button><Button variant="subtle" size="compact-xs" tabIndex={-1} onClick={() => only(each.key, true)}>without</Button></span></td>
              <td className="number">{speakStatistic(each.p50, question.metric)}</td><td className="number">{speakStatistic(each.p95, question.metric)}</td>
              {question.beside && <td className={`number${moved !== undefined && moved > 0.15 ? ' slow-text strong' : ''}`}>{moved === undefined ? '—' : `${moved > 0 ? '+' : moved < 0 ? '−' : ''}${Math.abs(Math.round(100 * moved))}%`}</td>}
              <td className={`number${each.fails > 0 ? ' down-text' : ''}`}>{each.fails === 0 ? '0' : speakShare(each.fails / each.tries)}</td>{hasLoss && <td className="number">{speakShare(each.loss)}</td>}<td className="number quiet">{speakCount(each.tries)}</td>
            </tr>
          )
        })}</tbody>
      </table></div>
      {more > 0 && <p className="quiet small" style={{ margin: '6px 0 0' }}>The worst {groups.length} are shown; {more} more are not. A demand narrows them.</p>}
    </section>
  )
}
