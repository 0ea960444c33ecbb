import { speakService } from '@/core/definitions/service'
import type { EditorChoices } from '@/ui/editor/choices'
import { allChecks } from './definitions'
import { database } from '@/store/database'
import { listLocations } from '@/store/locations'
import { maskedSecrets } from '@/store/secrets'
import { listServices, WORKSPACE, workspaceDefinition } from '@/store/world'

export async function editorChoices(): Promise<EditorChoices> {
  const [locations, services, workspace, secrets, checks] = await Promise.all([listLocations(database()), listServices(database()), workspaceDefinition(database()), maskedSecrets(database()), allChecks()])
  return {
    locations: locations.map(({ key, place, country, network, networkType }) => ({ key, place, country, network, networkType })),
    services: services.map((service) => ({ key: service.key, name: speakService(service), document: service.document, secrets: secrets('service', service.id) })),
    workspace: { document: workspace.document, secrets: secrets('workspace', WORKSPACE) },
    checks: checks.map((stored) => ({ key: stored.check.key, name: stored.check.name }))
  }
}
