import { unstable_rethrow } from 'next/navigation'
import { HemeronError, type Problem } from '@/core/problems'
import { isDatabaseGone } from '@/store/database'

/** What an action gives back: a value, or what is wrong in words. */
export type Result<Value> = { value: Value } | { error: string; problems?: Problem[] }

/** Runs an action and turns what it throws into words; faults of Hemeron itself go to the log. */
export async function attempt<Value>(work: () => Promise<Value>): Promise<Result<Value>> {
  try {
    return { value: await work() }
  } catch (error) {
    unstable_rethrow(error)
    if (error instanceof HemeronError) return { error: error.message, ...(error.problems.length > 0 ? { problems: error.problems } : {}) }
    process.stderr.write(`${new Date().toISOString()} web ${error instanceof Error ? error.stack : String(error)}\n`)
    return { error: isDatabaseGone(error) ? 'The database is away at the moment. Nothing was changed; try again in a few seconds.' : 'Hemeron has a fault; its log says more. Nothing was changed.' }
  }
}
