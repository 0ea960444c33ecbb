'use client'

import { Button, Modal, MultiSelect, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useState, useTransition } from 'react'
import type { Team } from '@/core/routing/reach'
import { addRouting, removeRouting, saveRouting } from '../../../app/actions/routing'

interface Named { key: string; name: string }

/** Makes a team, or changes one. */
export function TeamForm({ people, team, version = 0 }: { people: Named[]; team?: Team; version?: number }) {
  const [opened, setOpened] = useState(false)
  const [name, setName] = useState(team?.name ?? '')
  const [members, setMembers] = useState(team?.people ?? [])
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const save = () => start(async () => {
    const result = team ? await saveRouting('team', team.key, { team: team.key, name, people: members }, version) : await addRouting('team', { name, people: members })
    setError('error' in result ? result.error : undefined)
    if (!('error' in result)) setOpened(false)
  })
  return (
    <>
      <Button variant={team ? 'subtle' : 'default'} {...(team ? { size: 'compact-sm' } : {})} aria-label={team ? `Change ${team.name}` : 'New team'} onClick={() => setOpened(true)}>{team ? 'Change' : 'New team'}</Button>
      <Modal opened={opened} onClose={() => setOpened(false)} title={team ? team.name : 'New team'}>
        <div style={{ display: 'grid', gap: 10 }}>
          <TextInput label="Name" value={name} onChange={(event) => setName(event.currentTarget.value)} />
          <MultiSelect label="People" data={people.map((each) => ({ value: each.key, label: each.name }))} value={members} onChange={setMembers} searchable />
          {error && <div className="notice trouble" role="alert">{error}</div>}
          <Button onClick={save} loading={busy}>Save</Button>
        </div>
      </Modal>
    </>
  )
}

export function RemoveTeam({ team, name }: { team: string; name: string }) {
  const [busy, start] = useTransition()
  return <Button variant="subtle" size="compact-sm" loading={busy} aria-label={`Remove ${name}`} onClick={() => start(async () => {
    const result = await removeRouting('team', team)
    if ('error' in result) notifications.show({ message: result.error, color: 'red' })
  })}>Remove</Button>
}
