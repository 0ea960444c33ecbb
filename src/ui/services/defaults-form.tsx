'use client'

import { Button } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useRouter } from 'next/navigation'
import { useState, useTransition } from 'react'
import { same } from '@/core/definitions/differences'
import type { WorkspaceDocument } from '@/core/definitions/service'
import { saveDefaults } from '../../../app/actions/services'
import type { EditorChoices } from '../editor/choices'
import { VariableRows } from '../editor/more-parts'
import { useDraft } from '../editor/use-draft'
import { SecretsForm } from './secrets-form'
import { asDraft, sharedOf, SharedRules } from './shared-rules'

/** What every check begins with, and the variables of the whole workspace. */
export function DefaultsForm({ document, version, choices, secrets }: { document: WorkspaceDocument; version: number; choices: EditorChoices; secrets: { name: string; set: boolean }[] }) {
  const router = useRouter()
  const draft = useDraft(asDraft(document, 'Defaults'), { ...choices, services: [], workspace: { document: {}, secrets: {} } })
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const next = sharedOf(draft.document)
  const save = () => start(async () => {
    const result = await saveDefaults(next, version)
    if ('error' in result) return setError(result.error)
    setError(undefined)
    notifications.show({ message: 'The defaults are saved; every check that says nothing else follows at once.' })
    return router.refresh()
  })
  return (
    <div style={{ display: 'grid', gap: 12 }}>
      <SharedRules draft={draft} choices={choices} withConditions={false} />
      <div className="card pad"><h2>Variables of the workspace</h2><VariableRows variables={(document.variables ?? {}) as Record<string, string>} change={(variables) => draft.set({ variables })} />
        <h2 style={{ marginTop: 12, marginBottom: 6 }}>Secrets of the workspace</h2><SecretsForm service={null} secrets={secrets} /></div>
      {(error ?? draft.problem) && <div className="notice trouble" role="alert">{error ?? draft.problem}</div>}
      <div><Button onClick={save} loading={busy} disabled={same(next, document)}>Save</Button></div>
    </div>
  )
}
