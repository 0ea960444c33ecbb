import { speakMeans, speakTell } from '@/core/sentence/route-sentence'
import { database } from '@/store/database'
import { nextSteps, readRoutingWorld } from '@/store/routing'
import { tellNames } from './routing-view'

/** What happens next to each incident that has a step to come: when, and to whom by what. */
export async function nextWords(incidents: number[]): Promise<Map<number, { at: number; text: string }>> {
  const steps = await nextSteps(database(), incidents)
  if (steps.size === 0) return new Map()
  const names = { tell: tellNames(await readRoutingWorld(database())) }
  return new Map([...steps].map(([incident, { at, step }]) => [incident, { at, text: `${speakTell(step.tell, names)} by ${speakMeans(step.by)}` }]))
}
