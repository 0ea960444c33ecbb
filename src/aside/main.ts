import { parentPort } from 'node:worker_threads'
import { lookInto, type LookedInto, type ToLookInto } from '../core/findout/look-into'

export interface AsideTask { number: number; task: ToLookInto }
export type AsideResult = { number: number } & ({ found: LookedInto } | { problem: string })

// one thing after the other: a thread beside the pages, so that none of them waits while tries are looked into
parentPort?.on('message', ({ number, task }: AsideTask) => {
  const answer = (result: AsideResult) => parentPort!.postMessage(result)
  try {
    answer({ number, found: lookInto(task) })
  } catch (error) {
    answer({ number, problem: (error as Error).stack ?? String(error) })
  }
})
