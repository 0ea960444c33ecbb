import { speakLength } from '@/core/definitions/duration'
import type { BoardLine, BoardView } from '@/core/places/board'
import { blocksOf } from '@/core/ribbons/ribbon'
import { locationsOf, outside } from '@/core/places/places'
import { readSignedName } from '@/core/inside/signed-name'
import { HemeronError } from '@/core/problems'
import type { CheckState } from '@/core/states/check-state'
import { DAY, MINUTE } from '@/core/units'
import { requireBoard } from '@/store/boards'
import { database } from '@/store/database'
import { listLocations } from '@/store/locations'
import { listMemories, listStates, listStretches } from '@/store/states'
import { allChecks } from './definitions'
import { settings } from './session'

/** Everything a board shows, for its signed name. Throws not-found. */
export async function boardView(name: string, now: number): Promise<BoardView> {
  const { linkKey, zone } = await settings()
  const opened = readSignedName(name, linkKey)
  if (opened?.kind !== 'board') throw new HemeronError('not-found', 'This link is not one of ours.')
  const board = await requireBoard(database(), Number(opened.subject))
  const checks = (await allChecks()).filter(({ check, pausedAt }) => (board.checks.length === 0 || board.checks.includes(check.key)) && pausedAt === null)
  const all = await listLocations(database())
  const locations = outside(all).filter((each) => board.locations.length === 0 || board.locations.includes(each.key))
  const range = { from: now - DAY, to: now }
  const ids = checks.map((each) => each.id)
  const [states, memories, stretches] = await Promise.all([listStates(database(), ids), listMemories(database(), ids), ids.length === 0 ? [] : listStretches(database(), ids, range)])
  const last = new Map(memories.map((each) => [`${each.check}/${each.location}`, each]))
  const ORDER: CheckState[] = ['down', 'slow', 'suspect', 'warning', 'nodata', 'planned', 'up', 'paused']
  const lines = checks.map((stored): BoardLine => {
    const state = states.get(stored.id)
    const runs = new Set(locationsOf(stored.check.from, all).map((each) => each.id))
    return {
      key: stored.check.key, name: stored.check.name, state: state?.state ?? 'nodata', since: state ? speakLength(now - state.since) : '', sentence: state && state.state !== 'up' ? state.sentence?.split(';')[0] ?? '' : '',
      blocks: blocksOf(stretches.filter((each) => each.check === stored.id && (board.locations.length === 0 || locations.some((place) => place.id === each.location))).map((each) => ({ ...each, to: each.to ?? now })), range, 4 * MINUTE, () => Math.max(1, locations.filter((place) => runs.has(place.id)).length)), begins: Math.max(range.from, stored.createdAt),
      cells: locations.map((place) => { const found = runs.has(place.id) ? last.get(`${stored.id}/${place.id}`) : undefined; return found ? (found.memory.failing ? 'fail' : found.memory.slow ? 'slow' : found.last.verdict) : 'none' })
    }
  }).sort((a, b) => ORDER.indexOf(a.state) - ORDER.indexOf(b.state) || a.name.localeCompare(b.name))
  const bad = lines.filter((line) => line.state === 'down')
  const title = lines.length === 0 ? 'Nothing is on this board.' : bad.length === 0 ? `${lines.filter((line) => line.state === 'up').length} of ${lines.length} are up.` : `${bad.slice(0, 2).map((line) => line.name).join(', ')}${bad.length > 2 ? ` and ${bad.length - 2} more` : ''} ${bad.length === 1 ? 'is' : 'are'} down.`
  return { name: board.name, zone, at: now, range, locations: locations.map((each) => each.place), lines, title }
}
