import type { Call } from '../inside/inside'
import type { EvidenceTable } from '../observation'
import type { Instant, Milliseconds } from '../units'

/** One run of a job, put together from its calls. */
export interface Run {
  /** Missing when the job only says when it has ended. */
  began?: Instant
  ended?: Instant
  exit?: number
  run?: string
  output?: string
  /** Its end was never heard, and a later run has ended since. */
  lost?: true
  /** It began while an earlier run had not ended. */
  overlapped: boolean
}

/** When a run was first heard of. */
export const heard = (run: Run): Instant => run.began ?? run.ended!

/** How long a run took; undefined when its beginning or its end is not known. */
export const took = ({ began, ended }: Run): Milliseconds | undefined => (began === undefined || ended === undefined ? undefined : ended - began)

/**
 * Puts the runs of a job together from its calls, oldest first. An end belongs to the open run of the same name; without
 * a name to the one that began last, and older unnamed runs that were still open are then given up: their ends never came.
 */
export function runsOf(calls: readonly Call[]): Run[] {
  const runs: Run[] = []
  let open: Run[] = []
  for (const call of [...calls].sort((a, b) => a.at - b.at)) {
    const named = call.run === undefined ? undefined : open.find((each) => each.run === call.run)
    if (call.event === 'begin') {
      // a job that says twice that the same run begins has not begun twice
      if (named) continue
      const run: Run = { began: call.at, overlapped: open.length > 0, ...(call.run === undefined ? {} : { run: call.run }) }
      runs.push(run)
      open.push(run)
      continue
    }
    const ending = { ended: call.at, exit: call.exit ?? 0, ...(call.output === undefined ? {} : { output: call.output }) }
    const own = call.run === undefined ? open.findLast((each) => each.run === undefined) ?? open.at(-1) : named
    if (!own) {
      runs.push({ ...ending, overlapped: false, ...(call.run === undefined ? {} : { run: call.run }) })
      continue
    }
    Object.assign(own, ending)
    const left = open.filter((each) => each !== own)
    // nothing will ever tell the ends of unnamed runs apart: when the last has ended, so have they
    for (const each of left) if (call.run === undefined && each.run === undefined) each.lost = true
    open = left.filter((each) => !each.lost)
  }
  return runs
}

/** The runs that go on, oldest first. */
export const openRuns = (runs: readonly Run[]): Run[] => runs.filter((run) => run.ended === undefined && !run.lost)

const SHOWN = 25

/** The last runs as rows, newest first. */
export function runsTable(runs: readonly Run[]): EvidenceTable {
  const rows = runs.slice(-SHOWN).reverse().map((run) => [
    run.began ?? null, run.ended ?? (run.lost ? 'never heard' : 'goes on'), took(run) ?? null, run.exit ?? null, [run.run, run.overlapped ? 'began before the last had ended' : undefined].filter(Boolean).join(', ')
  ])
  return { title: 'Newest first', columns: [{ name: 'began', as: 'moment' }, { name: 'ended', as: 'moment' }, { name: 'took', as: 'length' }, { name: 'exit', as: 'number' }, { name: 'run' }], rows }
}
