import { DAY } from '../units'
import type { Problem } from '../problems'
import { durationField, keyField, needed, shareField, textField } from './fields'
import { parseDuration, formatDuration } from './duration'
import { parseShare, formatShare } from './share'
import { exactly, problemsOf } from './problems-of'

/** What the business would name, with the promise made for it. */
export interface Service {
  key: string
  name: string
  stage: string
  /** Promised share of good time, over a stretch. */
  objective?: { available: number; over: number }
}

const serviceSchema = exactly({
  service: needed(keyField(), 'the key of the service'),
  name: needed(textField(200), 'a name of 1 to 200 characters'),
  stage: textField(50),
  objective: exactly({ available: needed(shareField(), 'a share such as 99.9%'), over: durationField(DAY, 400 * DAY) }).default(undefined)
})

/** Reads a service's written form. */
export function readService(document: unknown): { service: Service } | { problems: Problem[] } {
  const problems = problemsOf(serviceSchema, document)
  if (problems.length > 0) return { problems }
  const written = document as { service: string; name: string; stage?: string; objective?: { available: string; over?: string } }
  return {
    service: {
      key: written.service,
      name: written.name,
      stage: written.stage ?? 'production',
      ...(written.objective ? { objective: { available: parseShare(written.objective.available)!, over: parseDuration(written.objective.over ?? '30d')! } } : {})
    }
  }
}

/** Writes a service so that readService reads it back. */
export function writeService(service: Service): Record<string, unknown> {
  return {
    service: service.key,
    name: service.name,
    stage: service.stage,
    ...(service.objective ? { objective: { available: formatShare(service.objective.available), over: formatDuration(service.objective.over) } } : {})
  }
}
