import type { EvidenceTable, StepTime } from '@/core/observation'
import { HemeronError } from '@/core/problems'
import { MINUTE } from '@/core/units'
import { kinds } from '@/kinds/definitions'
import type { KindDefinition } from '@/core/definitions/kind'
import { conditionSentence } from '@/core/sentence/condition-sentence'
import { plainText } from '@/core/sentence/sentence'
import { requireCheck } from '@/store/checks'
import { database } from '@/store/database'
import { listLocations } from '@/store/locations'
import { evidenceOf, listObservations, nearestEvidence } from '@/store/observations'
import { DAY } from '@/core/units'

/** What each step took, where nothing more was kept of them. */
const stepsTable = (steps: StepTime[]): EvidenceTable => ({
  title: 'Steps', columns: [{ name: 'step' }, { name: 'status', as: 'number' }, { name: 'took', as: 'time' }, { name: 'outcome' }],
  rows: steps.map((each, index) => [`${index + 1}. ${each.name}`, each.status ?? null, each.took, each.failed ? 'failed' : 'passed'])
})

/** One try with its evidence, where that was kept. Throws not-found. */
export async function keptObservation(checkKey: string, locationKey: string, at: number) {
  const on = database()
  const stored = await requireCheck(on, checkKey)
  const locations = await listLocations(on)
  const place = locations.find((each) => each.key === locationKey)
  if (!place || !Number.isSafeInteger(at)) throw new HemeronError('not-found', 'There is no such observation.')
  const [observation] = await listObservations(on, { check: stored.id, location: place.id, from: at, to: at + 1, limit: 1 })
  if (!observation) throw new HemeronError('not-found', 'There is no such observation, or it was kept long enough.')
  return { stored, locations, place, observation, evidence: await evidenceOf(on, stored.id, place.id, at) }
}

/** Everything of one try, with what stands beside it in time and place. Throws not-found. */
export async function observationView(checkKey: string, locationKey: string, at: number) {
  const on = database()
  const { stored, locations, place, observation, evidence } = await keptObservation(checkKey, locationKey, at)
  const every = stored.check.every
  const [around, everywhere, good] = await Promise.all([
    listObservations(on, { check: stored.id, location: place.id, from: at - Math.max(10 * MINUTE, 12 * every), to: at + Math.max(10 * MINUTE, 12 * every), limit: 200 }),
    listObservations(on, { check: stored.id, from: at - Math.max(MINUTE, every), to: at + Math.max(MINUTE, every), limit: 400 }),
    nearestEvidence(on, stored.id, { from: at - DAY, to: at - 1 }, true, 'last', place.id).then((found) => found ?? nearestEvidence(on, stored.id, { from: at - DAY, to: at - 1 }, true, 'last'))
  ])
  const line = [...around].sort((a, b) => a.at - b.at)
  const own = line.findIndex((each) => each.at === at)
  const nearest = locations.flatMap((location) => {
    const found = everywhere.filter((each) => each.location === location.id).sort((a, b) => Math.abs(a.at - at) - Math.abs(b.at - at))[0]
    return found ? [{ location, observation: found }] : []
  })
  const self = nearest.findIndex((each) => each.location.id === place.id)
  const href = (location: string, moment: number) => `/observations/${checkKey}/${location}/${moment}`
  const beside = (step: number) => { const found = nearest[(self + step + nearest.length) % nearest.length]; return found && found.location.id !== place.id ? href(found.location.key, found.observation.at) : undefined }
  return {
    stored, place, observation, evidence, found: evidence?.tables || !observation.steps ? evidence : { ...evidence, tables: [stepsTable(observation.steps)] }, good: good && { ...good, place: locations.find((each) => each.id === good.location)! }, kind: kinds[stored.check.kind] as unknown as KindDefinition,
    conditions: stored.check.pass.map((condition, index) => ({ words: plainText(conditionSentence(condition, index)), finding: evidence?.conditions?.find((each) => each.index === index) })),
    isOlder: observation.version !== stored.version,
    earlier: own > 0 ? href(locationKey, line[own - 1]!.at) : undefined, later: own >= 0 && own + 1 < line.length ? href(locationKey, line[own + 1]!.at) : undefined, above: beside(-1), below: beside(1),
    nearest: nearest.map(({ location, observation: each }) => ({ place: location.place, network: location.network, href: href(location.key, each.at), isSelf: location.id === place.id, observation: each }))
  }
}
