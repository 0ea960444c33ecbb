import { setTimeout as sleep } from 'node:timers/promises'

/**
 * Asks again until there is an answer, the time is over or the client has gone.
 * @param wait seconds, at most 25
 * @param pause milliseconds between two looks
 */
export async function longPoll<Answer>(request: Request, wait: number, pause: number, look: () => Promise<Answer | undefined>): Promise<Answer | undefined> {
  const until = Date.now() + Math.min(25, wait) * 1000
  for (;;) {
    const answer = await look()
    if (answer !== undefined || Date.now() >= until || request.signal.aborted) return answer
    await sleep(pause)
  }
}
