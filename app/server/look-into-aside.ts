import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import type { AsideResult, AsideTask } from '@/aside/main'
import { memoryOf, type LookedInto, type ToLookInto } from '@/core/findout/look-into'

interface Waiting { resolve: (found: LookedInto) => void; reject: (error: Error) => void }
interface Aside { worker: Worker; waiting: Map<number, Waiting>; last: number }

// kept over reloads of this module in development
const kept = globalThis as typeof globalThis & { hemeronAside?: Aside | undefined }

/** Looks into tries in a thread of its own. The tries are handed over, not copied: whoever calls must not use them any more. */
export function lookIntoAside(task: ToLookInto): Promise<LookedInto> {
  const aside = kept.hemeronAside ??= begin()
  const number = aside.last += 1
  return new Promise((resolve, reject) => {
    aside.waiting.set(number, { resolve, reject })
    aside.worker.ref()
    aside.worker.postMessage({ number, task } satisfies AsideTask, memoryOf(task.inside, task.reference))
  })
}

function begin(): Aside {
  const file = ['build', 'aside.js']
  const aside: Aside = { worker: new Worker(join(/* turbopackIgnore: true */ process.cwd(), ...file)), waiting: new Map(), last: 0 }
  aside.worker.unref()
  aside.worker.on('message', (result: AsideResult) => {
    const own = aside.waiting.get(result.number)
    aside.waiting.delete(result.number)
    if (aside.waiting.size === 0) aside.worker.unref()
    if ('found' in result) own?.resolve(result.found)
    else own?.reject(new Error(result.problem))
  })
  const end = (error: Error) => {
    kept.hemeronAside = undefined
    for (const own of aside.waiting.values()) own.reject(error)
    aside.waiting.clear()
  }
  aside.worker.on('error', end)
  aside.worker.on('exit', (code) => end(new Error(`the thread that looks into tries ended with ${code}`)))
  return aside
}
