import { speakCount } from '../definitions/count'
import type { Phase } from '../observation'
import { shortReason } from '../reasons/reasons'
import { manyOf, type Dimension } from './dimensions'
import type { Against } from './question'
import { speakStatistic } from './speak-statistic'
import { phaseNamed, speakTimes, type Verdict } from './verdict'

const SLOW_WORDS: Partial<Record<Phase, string>> = { lookup: 'was slow to find the name', connect: 'was slow to connect', tls: 'was slow at TLS', wait: 'was slow to answer', receive: 'was slow to send its answer' }
const PHASE_WORDS: Partial<Record<Phase, string>> = { lookup: 'name lookup', tls: 'TLS' }
export const speakPhase = (phase: string): string => PHASE_WORDS[phase as Phase] ?? phase

const COMPANION_WORDS: Record<string, string> = { loss: 'Packet loss on it', rtt: 'Round trip on it', resolution: 'Resolution from the root', hops: 'Steps on the way' }

export interface VerdictWords {
  title: string
  detail: string
  /** Rows of “in the stretch and outside it”. */
  rows: { what: string; inside: string; outside: string; accounts: string; strong: boolean }[]
}

/** What else is known of a verdict when it is said. */
export interface Told {
  /** The commonest status of the failures that are named. */
  status?: string
  against?: Against
  /** The share of the time whose tries were looked at. */
  share?: number
  /** What the question is about, where it is one thing. */
  whole?: string
  /** It demands something of its tries, so that nothing can be said of others. */
  isNarrowed?: boolean
}

const join = (all: string[]) => (all.length < 2 ? all.join('') : `${all.slice(0, -1).join(', ')} and ${all.at(-1)}`)
const certainty = (chance: number) => (chance < 1e-6 ? 'certain beyond chance' : chance < 0.001 ? 'very unlikely by chance' : `unlikely by chance (p = ${chance.toFixed(3)})`)

/**
 * Says a verdict: one sentence that never claims more than was found, what follows from it, and the table that proves it.
 * @param name how a value is said: “edge-4”, “Pacífico Cable”, the name of a check
 */
export function speakVerdict(verdict: Verdict, name: (dimension: string, value: string) => string, { status, against, share = 1, whole, isNarrowed = false }: Told = {}): VerdictWords {
  const { outcome, of, contrast, and, parties } = verdict
  const observed = `${speakCount(contrast.all)} ${contrast.all === 1 ? 'observation' : 'observations'} ${share < 1 ? `in ${Math.max(1, Math.round(100 * share))}% of the stretch, taken by chance` : 'in the stretch'}`
  if (against === 'passing' && of === 'times' && outcome !== 'few') return { title: 'Hardly any try of this stretch failed.', detail: `${observed}; there are too few failures to be set beside its passing tries.`, rows: [] }
  if (outcome === 'few') return { title: 'Not enough observations to say what sets this apart.', detail: `${observed}; at least 20 are needed, and as many to compare with.`, rows: [] }
  if (outcome === 'nothing') return { title: of === 'failures' ? 'Tries failed, and nothing they have in common sets them apart.' : 'Nothing sets this stretch apart.', detail: `${observed}. ${of === 'times' ? `Its times are ${against === 'usual' ? 'what is usual at these hours' : 'as they are outside of it'}, whichever way it is split.` : 'No single thing accounts for most of it beyond chance.'}`, rows: tableRows(verdict, name, against) }
  const [first] = verdict.named
  const isTime = first !== undefined && (first.dimension === 'hour' || first.dimension === 'weekday')
  const when = first?.dimension === 'hour' ? `Between ${first.value} and ${String((Number(first.value.slice(0, 2)) + 1) % 24).padStart(2, '0')}:00` : `On ${first?.value}s`
  const all = isNarrowed ? 'Everything that is asked about' : whole ?? 'Everything'
  const who = isTime ? `${when} ${whole === undefined || isNarrowed ? all.toLowerCase() : all}` : first ? `${name(first.dimension, first.value)}${and ? `, only with ${name(and.dimension, and.value)},` : ''}` : all
  const isEverywhere = (first === undefined || isTime) && !isNarrowed
  const isWidely = isTime || first !== undefined && ['step', 'check', 'host', 'service'].includes(first.dimension)
  const loss = verdict.companions.find((each) => each.metric === 'loss')
  const title = of === 'failures' ? `${who} ${failedHow(verdict, status, first === undefined || first.bad / first.tries > 0.9)}${isEverywhere ? ', wherever it is asked from' : ''}.` : `${who} ${SLOW_WORDS[phaseNamed(verdict) ?? 'send'] ?? 'was slow'}${isEverywhere ? ', wherever it is asked from' : ''}${loss && !isWidely ? ', because it lost packets' : ''}.`
  const call = parties.filter((each) => each.verdict === 'to blame')
  const cleared = parties.filter((each) => each.verdict === 'cleared')
  const unclear = parties.filter((each) => each.verdict === 'cannot be told')
  return {
    title,
    detail: [
      ...call.map((each) => (each.contact ? `Call ${each.name} (${each.contact}).` : each.kind === 'origin' ? 'It is for whoever runs the servers.' : `It is for ${within(each.name)}.`)),
      ...(unclear.length > 0 ? [`${sentenceCase(join(unclear.map((each) => within(each.name))))} cannot be told apart from here.`] : []),
      ...(cleared.length > 0 ? [`${sentenceCase(join(cleared.map((each) => within(each.name))))} need not be called.`] : []),
      `${observed}${of === 'failures' ? `, ${speakCount(contrast.bad)} of them failing` : ''}; ${certainty(first ? first.chance : contrast.chance)}.`
    ].join(' '),
    rows: tableRows(verdict, name, against)
  }
}

function failedHow({ reason, named: [first] }: Verdict, status: string | undefined, always: boolean): string {
  const partly = always || !first ? '' : ` in ${Math.round((100 * first.bad) / first.tries)}% of tries`
  if (reason === 'status' && status) return `answered ${status}${partly}`
  if (reason === undefined) return `failed${partly}`
  return `failed${partly}: ${shortReason(reason)}`
}

function tableRows(verdict: Verdict, name: (dimension: string, value: string) => string, against: Against | undefined): VerdictWords['rows'] {
  const { outcome, of, named: [first], contrast, and } = verdict
  const [inside, outside] = of === 'failures'
    ? [(each: { bad: number; tries: number }) => `${speakCount(each.bad)} of ${speakCount(each.tries)} failing`, (each: { reference?: number; othersBad: number; others: number }) => `${speakCount(each.othersBad)} of ${speakCount(each.others)}`] as const
    : [(each: { bad: number }) => speakTimes(each.bad), (each: { reference?: number }) => (each.reference === undefined ? '—' : speakTimes(each.reference))] as const
  const label = (dimension: string, value: string) => `${dimension[0]!.toUpperCase()}${dimension.slice(1)}: ${name(dimension, value)}`
  const rows: VerdictWords['rows'] = []
  if (first) rows.push({ what: label(first.dimension, first.value), inside: inside(first), outside: outside(first), accounts: `${first.share >= 0.95 ? 'all' : `${Math.round(100 * first.share)}%`} of ${of === 'failures' ? 'the failures' : 'the excess'}`, strong: true })
  if (and) rows.push({ what: label(and.dimension, and.value), inside: `${and.bad} of ${and.tries} failing with it`, outside: '', accounts: 'only the two together', strong: true })
  for (const each of verdict.companions) rows.push({ what: COMPANION_WORDS[each.metric] ?? each.metric, inside: speakStatistic(each.now, each.metric), outside: speakStatistic(each.before, each.metric), accounts: `moves with ${phaseNamed(verdict) === undefined ? 'it' : `${speakPhase(phaseNamed(verdict)!)} time`}`, strong: true })
  for (const each of first ? contrast.findings.filter((finding) => finding.alias).slice(0, 3) : []) rows.push({ what: label(each.dimension, each.value), inside: '—', outside: '—', accounts: `cannot be told from its ${first?.dimension ?? 'other name'}`, strong: false })
  for (const { phase, now, before, share } of verdict.phases.filter((each) => each.share >= 0.1)) rows.push({ what: `${speakPhase(phase)[0]!.toUpperCase()}${speakPhase(phase).slice(1)}`, inside: speakTimes(now), outside: speakTimes(before), accounts: `${Math.round(100 * share)}% of the excess`, strong: share >= 0.5 })
  const quiet = verdict.phases.filter((each) => each.share < 0.1).map((each) => speakPhase(each.phase))
  if (quiet.length > 0) rows.push({ what: sentenceCase(quiet.join(', ')), inside: against === 'usual' ? 'as usual' : 'as outside', outside: '', accounts: 'nothing', strong: false })
  // where nothing is amiss there is nothing of which a part could be accounted for
  const more = outcome === 'nothing' && of === 'times' ? [] : contrast.findings.filter((each) => each !== first && each !== and && !each.alias && !each.nothingMore && each.chance < 0.01 && each.share >= 0.1 && each.dimension !== first?.dimension).slice(0, 3)
  for (const each of more) rows.push({ what: label(each.dimension, each.value), inside: inside(each), outside: outside(each), accounts: `${Math.round(100 * each.share)}% of it${first ? ' as well' : ''}`, strong: false })
  const dimensions = verdict.ruledOut.filter((dimension) => !more.some((each) => each.dimension === dimension) && !contrast.findings.some((each) => each.alias && each.dimension === dimension))
  if (dimensions.length > 0) rows.push({ what: sentenceCase(dimensions.slice(0, 6).map((each) => manyOf(each as Dimension)).join(', ')), inside: first ? 'nothing more' : 'no difference', outside: '', accounts: 'nothing', strong: false })
  return rows
}

/** A name within a sentence: what begins with an article begins small. */
const within = (name: string) => name.replace(/^The /, 'the ')
const sentenceCase = (text: string) => `${text[0]?.toUpperCase() ?? ''}${text.slice(1)}`
