import { mkdirSync, readdirSync, readFileSync, renameSync, statSync, unlinkSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gunzipSync, gzipSync } from 'node:zlib'
import type { Observation } from '../core/observation'

/** The most that is kept while the server is away; beyond it the oldest goes. */
const BYTES_MOST = 200_000_000

/** Observations on disk that the server has not taken yet, oldest first. Files appear whole or not at all. */
export class Spool {
  private next = 0

  constructor(private readonly folder: string) {
    mkdirSync(folder, { recursive: true })
    for (const name of readdirSync(folder)) if (name.endsWith('.part')) unlinkSync(join(folder, name))
  }

  put(observations: Observation[]): void {
    const name = join(this.folder, `${Date.now().toString().padStart(15, '0')}-${String(this.next++).padStart(6, '0')}.json.gz`)
    writeFileSync(`${name}.part`, gzipSync(JSON.stringify(observations), { level: 1 }))
    renameSync(`${name}.part`, name)
    this.trim()
  }

  /** The oldest batch with the function that forgets it; undefined when nothing waits. */
  oldest(): { observations: Observation[]; forget: () => void } | undefined {
    for (const name of this.names()) {
      const path = join(this.folder, name)
      try {
        return { observations: JSON.parse(gunzipSync(readFileSync(path)).toString()) as Observation[], forget: () => unlinkSync(path) }
      } catch {
        renameSync(path, `${path}.unreadable`)
      }
    }
    return undefined
  }

  /** How many batches wait. */
  size(): number {
    return this.names().length
  }

  private names(): string[] {
    return readdirSync(this.folder).filter((name) => name.endsWith('.json.gz')).sort()
  }

  private trim(): void {
    const names = this.names()
    if (names.length % 20 !== 0) return
    let bytes = names.reduce((sum, name) => sum + statSync(join(this.folder, name)).size, 0)
    for (const name of names) {
      if (bytes <= BYTES_MOST) return
      bytes -= statSync(join(this.folder, name)).size
      unlinkSync(join(this.folder, name))
    }
  }
}
