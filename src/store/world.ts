import { acceptedService, type Service, type ServiceDocument, type WorkspaceDocument } from '../core/definitions/service'
import type { Surroundings } from '../core/layers/settle'
import { fromJson, row, rows, type Queryable } from './database'
import { maskedSecrets, type SecretPlace } from './secrets'

export interface StoredService extends Service {
  id: number
  version: number
}

/** Everything that stands around checks. */
export interface World {
  services: Map<string, Pick<StoredService, 'id' | 'document'>>
  workspace: { document: WorkspaceDocument; version: number }
  secrets: (place: SecretPlace, subject: number | null) => Record<string, string>
}

/** The number under which the workspace's own definition, revisions and secrets stand. */
export const WORKSPACE = 1

/** All services in use, in their order. */
export async function listServices(on: Queryable): Promise<StoredService[]> {
  const found = await rows<{ id: number; document: unknown; version: number }>(on, 'SELECT id, document, version FROM service WHERE deleted_at IS NULL ORDER BY position, id')
  return found.map(({ id, document, version }) => ({ ...acceptedService(fromJson<ServiceDocument>(document)), id, version }))
}

export async function serviceByKey(on: Queryable, key: string): Promise<StoredService | undefined> {
  const found = await row<{ id: number; document: unknown; version: number }>(on, 'SELECT id, document, version FROM service WHERE live_key = ?', [key])
  return found && { ...acceptedService(fromJson<ServiceDocument>(found.document)), id: found.id, version: found.version }
}

export async function workspaceDefinition(on: Queryable): Promise<World['workspace']> {
  const found = await row<{ document: unknown; version: number }>(on, 'SELECT document, version FROM workspace_definition WHERE id = ?', [WORKSPACE])
  return { document: fromJson<WorkspaceDocument>(found!.document), version: found!.version }
}

/** Reads what stands around checks. Values of secrets are masked unless `secrets` opens them. */
export async function readWorld(on: Queryable, secrets: (on: Queryable) => Promise<World['secrets']> = maskedSecrets): Promise<World> {
  const services = await listServices(on)
  return { services: new Map(services.map((service) => [service.key, service])), workspace: await workspaceDefinition(on), secrets: await secrets(on) }
}

/** What stands around one check. `id` is null for a check that is not stored yet. */
export function surroundingsOf(world: World, document: Record<string, unknown>, id: number | null, run?: Record<string, string>): Surroundings {
  const service = typeof document.service === 'string' ? world.services.get(document.service) : undefined
  return {
    ...(service ? { service: service.document } : {}),
    workspace: world.workspace.document,
    secrets: { check: world.secrets('check', id), service: world.secrets('service', service?.id ?? null), workspace: world.secrets('workspace', WORKSPACE) },
    ...(run ? { run } : {})
  }
}
