'use client'

import { Button, Modal, Select, TextInput } from '@mantine/core'
import { useState, useTransition } from 'react'
import type { Preferences } from '@/core/people/preferences'
import { invitePerson } from '../../../app/actions/account'
import { WishesForm } from './wishes'

/** Opens how a person wants to be told. */
export function WishesButton({ person, name, wishes, zone, zones }: { person: string; name: string; wishes: Preferences; zone: string; zones: string[] }) {
  const [opened, setOpened] = useState(false)
  return (
    <>
      <Button variant="subtle" size="compact-sm" aria-label={`How ${name} is told`} onClick={() => setOpened(true)}>Wishes</Button>
      <Modal opened={opened} onClose={() => setOpened(false)} title={`How ${name} is told`} size="lg"><WishesForm person={person} wishes={wishes} zone={zone} zones={zones} done={() => setOpened(false)} /></Modal>
    </>
  )
}

const ROLES = [{ value: 'contact', label: 'contact: only receives, from outside' }, { value: 'viewer', label: 'viewer: looks' }, { value: 'responder', label: 'responder: takes incidents' }, { value: 'editor', label: 'editor: changes checks and routes' }, { value: 'owner', label: 'owner: settings and people' }]

/** Adds a person and invites them by mail. */
export function InviteForm() {
  const [opened, setOpened] = useState(false)
  const [values, setValues] = useState({ name: '', mail: '', job: '', role: 'responder' as const })
  const [error, setError] = useState<string>()
  const [link, setLink] = useState<string>()
  const [busy, start] = useTransition()
  const field = (name: 'name' | 'mail' | 'job', label: string) => <TextInput label={label} value={values[name]} onChange={(event) => setValues({ ...values, [name]: event.currentTarget.value })} />
  const close = () => { setOpened(false); setLink(undefined); setError(undefined) }
  return (
    <>
      <Button variant="default" onClick={() => setOpened(true)}>Invite</Button>
      <Modal opened={opened} onClose={close} title="Invite a person">
        {link !== undefined ? <div style={{ display: 'grid', gap: 10 }}>{link === '' ? <div>A message is on its way to {values.mail}. Nothing else goes there before the link in it was opened.</div> : <div>An invitation is on its way to {values.mail}. This is the link in it; it counts for three days.</div>}<code style={{ overflowWrap: 'anywhere' }}>{link}</code><Button onClick={close}>Done</Button></div> : (
          <div style={{ display: 'grid', gap: 10 }}>
            {field('name', 'Name')}{field('mail', 'Mail address')}{field('job', 'Job')}
            <Select label="Role" data={ROLES} value={values.role} allowDeselect={false} onChange={(value) => setValues({ ...values, role: value as 'responder' })} />
            {error && <div className="notice trouble" role="alert">{error}</div>}
            <Button loading={busy} onClick={() => start(async () => {
              const result = await invitePerson(values)
              if ('error' in result) setError(result.error)
              else setLink(result.value)
            })}>Invite</Button>
          </div>
        )}
      </Modal>
    </>
  )
}
