import type { ServiceDocument, WorkspaceDocument } from '@/core/definitions/service'
import type { KnownLocation } from '@/core/sentence/check-sentence'

/** What the editor offers to choose from, and what stands around a check. Values of secrets are masked. */
export interface EditorChoices {
  locations: KnownLocation[]
  services: { key: string; name: string; document: ServiceDocument; secrets: Record<string, string> }[]
  workspace: { document: WorkspaceDocument; secrets: Record<string, string> }
  checks: { key: string; name: string }[]
}
