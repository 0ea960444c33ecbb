import { withMore } from './together'
import type { CheckState } from '../states/check-state'

/** What Today says first. Unheld, held and every other state are counted apart. */
export interface OpenIncident {
  name: string
  /** How many other checks it is about. */
  more?: number
  holder?: string
  /** It is no outage: nobody is needed at once. */
  isWarning?: boolean
}

/** “Sailings API needs a person. Priya holds Checkout.” or “Nothing needs you.” */
export function todayConclusion(open: OpenIncident[], counts: Partial<Record<CheckState, number>>): string {
  const total = Object.values(counts).reduce((sum, count) => sum + count, 0)
  if (total === 0) return 'Nothing is watched yet.'
  const unheld = open.filter((incident) => !incident.holder && !incident.isWarning).map(({ name, more = 0 }) => ({ name: withMore(name, more), more }))
  const held = open.filter((incident) => incident.holder).map((incident) => ({ ...incident, name: withMore(incident.name, incident.more ?? 0) }))
  const sentences: string[] = []
  if (unheld.length === 1) sentences.push(`${unheld[0]!.name} ${unheld[0]!.more > 0 ? 'need' : 'needs'} a person.`)
  else if (unheld.length === 2) sentences.push(`${unheld[0]!.name} and ${unheld[1]!.name} need a person.`)
  else if (unheld.length > 2) sentences.push(`${unheld[0]!.name}, ${unheld[1]!.name} and ${unheld.length - 2} more need a person.`)
  const holders = [...new Set(held.map((incident) => incident.holder!))]
  for (const holder of holders.slice(0, 2)) {
    const names = held.filter((incident) => incident.holder === holder).map((incident) => incident.name)
    sentences.push(`${holder.split(' ')[0]} holds ${names.length > 2 ? `${names.length} incidents` : names.join(' and ')}.`)
  }
  if (holders.length > 2) sentences.push(`${holders.length - 2} more people hold the rest.`)
  if (sentences.length > 0) return sentences.join(' ')
  const warnings = open.filter((incident) => !incident.holder && incident.isWarning).length
  if (warnings > 0) return `Nothing needs you at once; ${warnings === 1 ? 'a warning is' : `${warnings} warnings are`} open.`
  if (counts.suspect) return `Nothing needs you yet; ${counts.suspect === 1 ? 'one check is' : `${counts.suspect} checks are`} being tried again.`
  if (counts.nodata && counts.nodata === total) return 'Nothing has been observed yet.'
  return 'Nothing needs you.'
}

/** “38 up, 2 down, 1 slow”: every state that occurs, up first. */
export function speakCounts(counts: Partial<Record<CheckState, number>>): { state: CheckState; text: string }[] {
  const words: Record<CheckState, string> = {
    up: 'up', down: 'down', slow: 'slow', suspect: 'suspect', warning: 'warning', planned: 'in planned work', paused: 'paused', nodata: 'without data'
  }
  return (['up', 'down', 'slow', 'suspect', 'warning', 'planned', 'paused', 'nodata'] as const)
    .filter((state) => (counts[state] ?? 0) > 0)
    .map((state) => ({ state, text: `${counts[state]} ${words[state]}` }))
}
