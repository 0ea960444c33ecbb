import { runHttp } from './http/run'
import type { KindRunner } from './runner'

/** How every kind runs, by its key in definitions. */
export const runners: Record<string, KindRunner> = {
  http: { run: runHttp as KindRunner['run'] }
}
