import { runnerOf } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { askHttp } from '../http/ask'
import { containerDefinition } from './definition'

interface State {
  Status?: string
  Running?: boolean
  Restarting?: boolean
  OOMKilled?: boolean
  ExitCode?: number
  StartedAt?: string
  Health?: { Status?: string; FailingStreak?: number; Log?: { Output?: string }[] }
}

export const containerRunner = runnerOf(containerDefinition, async ({ container, engine }, trying) => {
  const path = `/containers/${encodeURIComponent(container)}/json`
  const local = new URL(engine).protocol === 'unix:' ? new URL(engine).pathname : undefined
  if (local !== undefined) trying.begin('connect')
  const received = local === undefined
    ? await askHttp(trying, { url: new URL(path, engine), http1: true })
    : await askHttp(trying, { url: new URL(path, 'http://localhost'), over: await trying.link.local(local, trying.signal), http1: true })
  const text = trying.answer(received.body)
  const said = parsed(text)
  if (received.status === 404) throw new TryFailure('not-running', `the engine knows no container ${container}`)
  if (received.status !== 200) throw new TryFailure('server-failed', `the engine answers ${received.status}${typeof said?.message === 'string' ? `: ${said.message}` : ''}`.slice(0, 250))
  const state = said?.State as State | undefined
  if (!state?.Status) throw new TryFailure('bad-answer', 'the answer says nothing about a container')
  const health = state.Health?.Status
  const image = (said?.Config as { Image?: unknown } | undefined)?.Image
  const restarts = Number(said?.RestartCount ?? 0)
  const started = Date.parse(state.StartedAt ?? '')
  trying.evidence.facts = [['state', state.Status], ['health', health ?? 'not checked'], ['restarts', String(restarts)], ['started', state.StartedAt ?? 'not said'], ['image', typeof image === 'string' ? image : 'not said']]
  const readings = { restarts, ...(state.Running && !Number.isNaN(started) ? { uptime: Math.max(0, Date.now() - started) } : {}) }
  Object.assign(trying.readings, readings)
  if (state.Restarting) throw new TryFailure('not-running', `${container} is being restarted again and again; it ended with code ${state.ExitCode ?? 'unknown'}`)
  if (state.Status !== 'running') throw new TryFailure('not-running', `${container} is ${state.Status}${state.OOMKilled ? ', killed for want of memory' : state.Status === 'exited' ? ` with code ${state.ExitCode ?? 'unknown'}` : ''}`)
  if (health === 'unhealthy') throw new TryFailure('not-running', `${container} runs, but says that it is unhealthy${state.Health?.Log?.at(-1)?.Output ? `: ${state.Health.Log.at(-1)!.Output!.trim().slice(0, 150)}` : ''}`)
  return { body: text, status: 200, readings, facts: { state: [state.Status], health: health === undefined ? [] : [health], image: typeof image === 'string' ? [image] : [] } }
})

function parsed(text: string): Record<string, unknown> | undefined {
  try {
    const value: unknown = JSON.parse(text)
    return value !== null && typeof value === 'object' ? value as Record<string, unknown> : undefined
  } catch {
    return undefined
  }
}
