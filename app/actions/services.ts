'use server'

import { revalidatePath } from 'next/cache'
import type { LocationChoice } from '@/core/places/places'
import { keyFromName } from '@/core/definitions/key'
import { HemeronError } from '@/core/problems'
import type { Verdict } from '@/core/observation'
import { copyStage } from '@/core/stages/copy-stage'
import { askForRuns, listChecks } from '@/store/checks'
import { addClient } from '@/store/clients'
import { database } from '@/store/database'
import { defineAll } from '@/store/define'
import { addService, replaceService, requireService } from '@/store/define-one'
import { tryResults } from '@/store/probes'
import { setSecret } from '@/store/secrets'
import { listMemories } from '@/store/states'
import { listServices, WORKSPACE, workspaceDefinition } from '@/store/world'
import { signedInAs } from '../server/session'
import { beginTryOf, readRunVariables } from '../server/try'
import { attempt, type Result } from './result'

const changed = () => revalidatePath('/', 'layout')

export async function makeService(name: string, stage: string): Promise<Result<string>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const service = await addService(database(), { service: keyFromName(stage === 'production' ? name : `${name} ${stage}`, 'service'), name: name.trim(), stage: stage.trim() }, person.id, Date.now())
    changed()
    return service.key
  })
}

/** Saves a changed service, unless someone else saved it since `version`; refused when one of its checks would break. */
export async function saveService(key: string, document: Record<string, unknown>, version: number): Promise<Result<string>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const service = await replaceService(database(), key, document, version, person.id, Date.now())
    changed()
    return service.key
  })
}

/** Saves the workspace's defaults and variables, unless someone else saved them since `version`. */
export async function saveDefaults(document: Record<string, unknown>, version: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await defineAll(database(), [{ kind: 'workspace', key: '', document, fromVersion: version }], 'Changed the defaults', person.id, Date.now())
    changed()
    return undefined
  })
}

export async function removeService(key: string): Promise<Result<number | undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const service = await requireService(database(), key)
    const change = await defineAll(database(), [{ kind: 'service', key, document: null }], `Removed the service ${service.name}`, person.id, Date.now())
    changed()
    return change
  })
}

/** Declares a secret, where it is new, and sets its value. `service` is null for the workspace. */
export async function putSecret(service: string | null, name: string, value: string): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const now = Date.now()
    const place = service === null ? { id: WORKSPACE, key: '', document: (await workspaceDefinition(database())).document } : await requireService(database(), service)
    const declared = (place.document.secrets ?? []) as string[]
    if (!declared.includes(name)) {
      await defineAll(database(), [{ kind: service === null ? 'workspace' : 'service', key: place.key, document: { ...place.document, secrets: [...declared, name] } }], `Declared the secret ${name}`, person.id, now)
    }
    await setSecret(database(), service === null ? 'workspace' : 'service', place, name, value, person.id, now)
    changed()
    return undefined
  })
}

export async function nameClient(name: string): Promise<Result<string>> {
  return attempt(async () => {
    await signedInAs('editor')
    if (name.trim() === '' || name.length > 200) throw new HemeronError('bad-document', undefined, [{ path: 'name', found: `"${name}"`, expected: 'the name of a client' }])
    const key = keyFromName(name, 'client')
    await addClient(database(), { key, name: name.trim() })
    changed()
    return key
  })
}

/** Copies a service with its checks and secrets to another stage. Gives the key of the copy and the change, to undo it. */
export async function copyToStage(key: string, stage: string, variables: Record<string, string>, from: LocationChoice | undefined): Promise<Result<{ key: string; change: number | undefined }>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    if (stage.trim() === '' || stage.length > 50) throw new HemeronError('bad-document', undefined, [{ path: 'stage', found: `"${stage}"`, expected: 'the name of the stage, at most 50 characters' }])
    const source = await requireService(database(), key)
    const [services, checks] = [await listServices(database()), await listChecks(database())]
    const taken = { service: new Set(services.map((each) => each.key)), check: new Set(checks.map((each) => each.check.key)) }
    const copy = copyStage(source.document, checks.filter((each) => each.serviceId === source.id).map((each) => each.document), { stage: stage.trim(), variables, ...(from === undefined ? {} : { from }) }, (kind, wanted) => taken[kind].has(wanted))
    const change = await defineAll(database(), [
      { kind: 'service', key: copy.service.service, document: copy.service, secretsOf: source.id },
      ...copy.checks.map((document) => ({ kind: 'check' as const, key: document.check, document }))
    ], `Copied ${source.name} to ${stage.trim()}`, person.id, Date.now())
    changed()
    return { key: copy.service.service, change }
  })
}

/** A run of a whole service: recorded with its checks, or with other values and not recorded. */
export interface ServiceRun {
  at: number
  recorded: boolean
  checks: { key: string; id: number; name: string; locations: number; try?: string; problem?: string }[]
}

/** Runs every check of a service that is not paused. */
export async function runService(key: string, variables?: Record<string, string>): Promise<Result<ServiceRun>> {
  return attempt(async () => {
    await signedInAs('responder')
    const service = await requireService(database(), key)
    const given = readRunVariables(variables)
    const own = (await listChecks(database())).filter((stored) => stored.serviceId === service.id && stored.pausedAt === null)
    const at = Date.now()
    const checks = await Promise.all(own.map(async (stored) => {
      const facts = { key: stored.check.key, id: stored.id, name: stored.check.name }
      if (!given) return { ...facts, locations: await askForRuns(database(), stored.id, stored.check, at) }
      try {
        const begun = await beginTryOf({ document: stored.document, check: stored.id, variables: given }, at)
        return { ...facts, locations: begun.locations.length, try: begun.id }
      } catch (error) {
        if (error instanceof HemeronError) return { ...facts, locations: 0, problem: error.message }
        throw error
      }
    }))
    return { at, recorded: given === undefined, checks }
  })
}

/** What a run of a service has brought so far: verdicts, with words where they are not a pass. */
export async function readServiceRun(run: ServiceRun): Promise<Result<{ key: string; verdicts: { verdict: Verdict; sentence?: string; total: number }[] }[]>> {
  return attempt(async () => {
    await signedInAs('responder')
    const memories = run.recorded ? await listMemories(database(), run.checks.map((check) => check.id)) : []
    return Promise.all(run.checks.map(async (check) => {
      const answers = check.try ? (await tryResults(database(), check.try)).flatMap((each) => each.observation ?? []) : memories.filter((each) => each.check === check.id && each.last.at >= run.at - 500).map((each) => each.last)
      return { key: check.key, verdicts: answers.map(({ verdict, sentence, total }) => ({ verdict, total, ...(sentence ? { sentence } : {}) })) }
    }))
  })
}
