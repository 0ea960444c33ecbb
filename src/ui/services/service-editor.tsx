'use client'

import { Button, Select, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useRouter } from 'next/navigation'
import { useState, useTransition } from 'react'
import { same } from '@/core/definitions/differences'
import type { ServiceDocument } from '@/core/definitions/service'
import { nameClient, saveService } from '../../../app/actions/services'
import type { EditorChoices } from '../editor/choices'
import { VariableRows } from '../editor/more-parts'
import { useDraft } from '../editor/use-draft'
import { SecretsForm } from './secrets-form'
import { asDraft, sharedOf, SharedRules } from './shared-rules'

interface Props {
  document: ServiceDocument
  version: number
  choices: EditorChoices
  clients: { key: string; name: string }[]
  secrets: { name: string; set: boolean }[]
}

/** What a service is called, promises and shares with its checks. */
export function ServiceEditor({ document, version, choices, clients, secrets }: Props) {
  const router = useRouter()
  const draft = useDraft(asDraft(document, document.name), { ...choices, services: [] })
  const objective = document.objective as { available: string; over?: string } | undefined
  const [facts, setFacts] = useState({ name: document.name, stage: String(document.stage ?? 'production'), available: objective?.available ?? '', over: objective?.over ?? '30d', client: (document.client as string | undefined) ?? null })
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const next: ServiceDocument = {
    service: document.service, name: facts.name, stage: facts.stage, ...(facts.client === null ? {} : { client: facts.client }),
    ...(facts.available === '' ? {} : { objective: { available: facts.available, over: facts.over } }), ...sharedOf(draft.document)
  }
  const isChanged = !same(next, document)
  const save = () => start(async () => {
    const result = await saveService(document.service, next, version)
    if ('error' in result) return setError(result.error)
    setError(undefined)
    notifications.show({ message: `${facts.name} is saved; its checks follow at once.` })
    return router.refresh()
  })
  const addClient = (name: string) => start(async () => {
    const result = await nameClient(name)
    if ('error' in result) setError(result.error)
    else setFacts({ ...facts, client: result.value })
  })
  const field = (name: 'name' | 'stage' | 'available' | 'over', label: string, width: number, placeholder?: string) =>
    <TextInput size="xs" w={width} label={label} placeholder={placeholder} value={facts[name]} onChange={(event) => setFacts({ ...facts, [name]: event.currentTarget.value })} />
  return (
    <div style={{ display: 'grid', gap: 12 }}>
      <SharedRules draft={draft} choices={choices} withConditions />
      <div className="card pad">
        <h2>Variables</h2>
        <VariableRows variables={(document.variables ?? {}) as Record<string, string>} change={(variables) => draft.set({ variables })} />
        <h2 style={{ marginTop: 12, marginBottom: 6 }}>Secrets</h2>
        <SecretsForm service={document.service} secrets={secrets} />
      </div>
      <div className="card pad row" style={{ alignItems: 'flex-end' }}>
        {field('name', 'Name', 170)}{field('stage', 'Stage', 110)}{field('available', 'Objective', 90, '99.9%')}{field('over', 'over', 60)}
        <Select size="xs" w={170} label="Looked after for" clearable searchable data={clients.map((client) => ({ value: client.key, label: client.name }))} value={facts.client} placeholder="nobody else"
          onChange={(client) => setFacts({ ...facts, client })} nothingFoundMessage="Type a name below to add one" />
        <NewClient add={addClient} />
      </div>
      {(error ?? draft.problem) && <div className="notice trouble" role="alert">{error ?? draft.problem}</div>}
      <div className="row"><Button onClick={save} loading={busy} disabled={!isChanged || draft.problem !== undefined}>Save</Button>{isChanged && <span className="quiet small">Not saved yet.</span>}</div>
    </div>
  )
}

function NewClient({ add }: { add: (name: string) => void }) {
  const [name, setName] = useState<string>()
  if (name === undefined) return <Button variant="subtle" onClick={() => setName('')}>+ client</Button>
  return <><TextInput size="xs" w={150} label="New client" value={name} onChange={(event) => setName(event.currentTarget.value)} /><Button variant="default" onClick={() => { add(name); setName(undefined) }}>Add</Button></>
}
