import { questionSentence } from '@/core/findout/question-sentence'
import type { Question } from '@/core/findout/question'
import { plainText } from '@/core/sentence/sentence'
import { iso } from './representations'
import type { AskedWorld } from './asked-world'
import { speakOne, type FoundOut, type Judged } from './find-out'

/** An answer as the API gives it: times in milliseconds, shares from 0 to 1, steps on the way as a count. */
export function questionOut(question: Question, found: FoundOut, judged: Judged | undefined, world: AskedWorld, now: number) {
  const { range, step, stretch, from, together } = found
  return {
    question: plainText(questionSentence(question, world.names, world.zone, now)), from: iso(range.from), to: iso(range.to), step, observations: found.tries,
    answeredFrom: 'rolledUp' in from ? (from.rolledUp === '1h' ? 'hours' : 'days') : 'observations', ...('thinned' in from && from.thinned > 1 ? { passingTaken: 1 / from.thinned } : {}),
    groups: found.groups.map(({ code: _, ...group }) => ({ ...group, key: group.name, name: speakOne(question.by, group.name, world), value: group.value ?? null })), more: found.more,
    ...(together ? { together: { value: together.own ?? null, beside: together.beside ?? null } } : {}),
    ...(stretch ? { stretch: { from: iso(stretch.from), to: iso(stretch.to), picked: stretch.isOwn } } : {}),
    ...(judged ? { verdict: verdictOut(judged) } : {})
  }
}

function verdictOut({ verdict, words }: Judged) {
  return {
    of: verdict.of, outcome: verdict.outcome, title: words.title, detail: words.detail, ...(verdict.reason === undefined ? {} : { reason: verdict.reason }),
    named: [...verdict.named, ...(verdict.and ? [verdict.and] : [])].map(({ dimension, value, share, chance }) => ({ dimension, value, share, chance })),
    rows: words.rows.map(({ what, inside, outside, accounts }) => ({ what, inside, outside, accounts })),
    parties: verdict.parties.map(({ name, kind, verdict: told, why, contact }) => ({ name, kind, verdict: told, why, ...(contact === undefined ? {} : { contact }) }))
  }
}
