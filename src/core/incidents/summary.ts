import { speakLength } from '../definitions/duration'
import { speakExactly, speakClock } from '../time/zoned'
import type { Instant } from '../units'
import { followUps } from './follow-ups'
import { incidentLength, incidentTitle, speakPlaces, type IncidentFacts } from './incident'

export interface SummaryFacts extends IncidentFacts {
  id: number
  service?: string
  openedAt: Instant
  takenAt?: Instant
  closedAt?: Instant
  holder?: string
  notReal: boolean
  /** Names of other checks that were part of it, with what they had in common. */
  parts: { name: string; why: string }[]
  /** What sets it apart, as it was found. */
  verdict?: { title: string; detail: string; rows: { what: string; inside: string; outside: string; accounts: string }[] }
  events: { at: Instant; kind: string; title: string; detail: string; person?: string | null }[]
  messages: number
}

/** Text as it stands, in Markdown: nothing of it is a mark-up. */
const plain = (text: string) => text.replace(/([\\`*_[\]<>#|])/g, '\\$1')

/**
 * Drafts a summary of an incident in Markdown from what is known, by template: every sentence is a fact that was recorded,
 * and what is not known is said to be so.
 */
export function draftSummary(facts: SummaryFacts, zone: string, now: Instant): string {
  const { service, parts, verdict, events, holder, takenAt, openedAt, closedAt } = facts
  const more = parts.length
  const isOver = facts.endedAt !== undefined || closedAt !== undefined
  const cause = events.findLast((each) => each.kind === 'closed')?.detail
  const tasks = followUps(events)
  const notes = events.filter((each) => each.kind === 'note')
  return [
    `# ${plain(incidentTitle({ ...facts, more, ...(isOver && facts.endedAt === undefined ? { endedAt: closedAt } : {}) }))}`,
    `Incident ${facts.id}${service ? `, ${plain(service)}` : ''}. ${isOver ? 'It is over.' : 'It is not over.'}${facts.notReal ? ' It was a false alarm.' : ''}`,
    '## What happened',
    [
      `- Since: ${speakExactly(facts.since, zone)}${facts.lastPass === undefined ? '' : `; the last pass before was at ${speakExactly(facts.lastPass, zone)}`}.`, `- It lasted: ${incidentLength(facts, now)}.`,
      `- Where: ${speakPlaces(facts.failing, facts.locations)}.`, `- Seen as: ${plain(facts.sentence)}.`, ...(more > 0 ? [`- With it: ${parts.slice(0, 20).map((each) => `${plain(each.name)} (${plain(each.why)})`).join('; ')}${more > 20 ? ` and ${more - 20} more` : ''}.`] : [])
    ].join('\n'),
    '## Why',
    verdict ? `${plain(verdict.title)} ${plain(verdict.detail)}` : 'What sets it apart was not found, or can no longer be looked at.',
    ...(verdict && verdict.rows.length > 0 ? [['| What | With it | Without it | Accounts for |', '| --- | ---: | ---: | --- |', ...verdict.rows.map((row) => `| ${[row.what, row.inside, row.outside, row.accounts].map(plain).join(' | ')} |`)].join('\n')] : []),
    `Cause as named by people: ${cause === undefined || cause === '' ? 'none was written down.' : cause}`,
    '## Who acted',
    [
      `- ${facts.messages === 0 ? 'Nobody was told.' : `${facts.messages} ${facts.messages === 1 ? 'message' : 'messages'} went out.`}`,
      takenAt === undefined ? '- Nobody took it.' : `- ${plain(holder ?? 'Somebody')} took it ${speakLength(takenAt - openedAt)} after it was called.`,
      ...(closedAt === undefined ? [] : [`- It was closed ${speakLength(closedAt - openedAt)} after it was called.`])
    ].join('\n'),
    '## Time line',
    events.filter((each) => each.kind !== 'note').map((each) => `- ${speakClock(each.at, zone)} ${plain(each.title)}${each.detail === '' ? '' : ` — ${plain(each.detail.replace(/\n/g, ' '))}`}`).join('\n'),
    ...(notes.length > 0 ? ['## Notes', ...notes.map((each) => `**${plain(each.title)}**, ${speakClock(each.at, zone)}\n\n${each.detail}`)] : []),
    '## Follow-ups',
    tasks.length === 0 ? 'None was written down.' : tasks.map((each) => `- [${each.done ? 'x' : ' '}] ${each.text}`).join('\n')
  ].join('\n\n') + '\n'
}
