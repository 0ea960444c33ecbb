import { DAY } from '../units'
import type { Problem } from '../problems'
import { conditionsField, sharedFields, variableFields } from './check-schema'
import { durationField, keyField, needed, shareField, textField } from './fields'
import { parseDuration } from './duration'
import { parseShare } from './share'
import { exactly, problemsOf } from './problems-of'

/** What the business would name: what its checks share, and the promise made for it. */
export interface Service {
  key: string
  name: string
  stage: string
  /** The key of the client it is looked after for. */
  client?: string
  /** Promised share of good time, over a stretch. */
  objective?: { available: number; over: number }
  /** The written form, with everything its checks inherit. */
  document: ServiceDocument
}

export type ServiceDocument = { service: string; name: string } & Record<string, unknown>

/** What holds for the whole workspace: defaults of checks, and variables. */
export type WorkspaceDocument = Record<string, unknown>

const serviceSchema = exactly({
  service: needed(keyField(), 'the key of the service'),
  name: needed(textField(200), 'a name of 1 to 200 characters'),
  stage: textField(50),
  client: keyField(),
  objective: exactly({ available: needed(shareField(), 'a share such as 99.9%'), over: durationField(DAY, 400 * DAY) }).default(undefined),
  ...sharedFields(true),
  ...variableFields(),
  pass: conditionsField()
})

const workspaceSchema = exactly({ workspace: textField(20), ...sharedFields(true), ...variableFields() })

/** Reads a service's written form. */
export function readService(document: unknown): { service: Service } | { problems: Problem[] } {
  const problems = problemsOf(serviceSchema, document)
  return problems.length > 0 ? { problems } : { service: acceptedService(document as ServiceDocument) }
}

/** Reads a document that was validated before it was stored. */
export function acceptedService(document: ServiceDocument): Service {
  const written = document as ServiceDocument & { stage?: string; client?: string; objective?: { available: string; over?: string } }
  return {
    key: written.service,
    name: written.name,
    stage: written.stage ?? 'production',
    ...(written.client === undefined ? {} : { client: written.client }),
    ...(written.objective ? { objective: { available: parseShare(written.objective.available)!, over: parseDuration(written.objective.over ?? '30d')! } } : {}),
    document
  }
}

/** Everything that is wrong with the workspace's defaults and variables. */
export function workspaceProblems(document: unknown): Problem[] {
  return problemsOf(workspaceSchema, document)
}

/** A service as lists say it: `Ticket sales`, or `Ticket sales, staging`. */
export function speakService(service: Pick<Service, 'name' | 'stage'>): string {
  return service.stage === 'production' ? service.name : `${service.name}, ${service.stage}`
}
