'use client'

import { Button, Modal, Select, Textarea, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useState, useTransition } from 'react'
import { PARTY_KINDS, type Party } from '@/core/parties/parties'
import { saveParty, takePartyAway } from '../../../app/actions/findings'

const lines = (text: string) => text.split(/[\n,]/).map((each) => each.trim()).filter((each) => each !== '')
const keyOf = (name: string) => name.toLowerCase().normalize('NFD').replace(/[\u0300-\u036f]/g, '').replace(/[^a-z0-9]+/g, '-').replace(/^-|-$/g, '')

/** Names who stands between a visitor and an answer, what belongs to them and how to reach them. */
export function PartyForm({ party }: { party?: Party }) {
  const [opened, setOpened] = useState(false)
  const [form, setForm] = useState({ name: party?.name ?? '', kind: party?.kind ?? 'access network', contact: party?.contact ?? '', hosts: party?.hosts.join('\n') ?? '', ranges: party?.ranges.join('\n') ?? '', networks: party?.networks.join('\n') ?? '' })
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const put = (change: Partial<typeof form>) => setForm({ ...form, ...change })
  const save = () => start(async () => {
    const lists = Object.fromEntries((['hosts', 'ranges', 'networks'] as const).flatMap((field) => (lines(form[field]).length === 0 ? [] : [[field, lines(form[field])]])))
    const result = await saveParty({ party: party?.key ?? keyOf(form.name), name: form.name.trim(), kind: form.kind, ...(form.contact.trim() === '' ? {} : { contact: form.contact.trim() }), ...lists })
    setError('error' in result ? result.error : undefined)
    if ('value' in result) setOpened(false)
  })
  const area = (field: 'hosts' | 'ranges' | 'networks', label: string, placeholder: string) => <Textarea label={label} description="one a line" placeholder={placeholder} value={form[field]} autosize minRows={2} onChange={(event) => put({ [field]: event.currentTarget.value })} />
  return (
    <>
      <Button variant={party ? 'subtle' : 'default'} {...(party ? { size: 'compact-sm' as const } : {})} aria-label={party ? `Change ${party.name}` : 'New party'} onClick={() => setOpened(true)}>{party ? 'Change' : 'New party'}</Button>
      <Modal opened={opened} onClose={() => setOpened(false)} title={party?.name ?? 'New party'}>
        <div style={{ display: 'grid', gap: 10 }}>
          <TextInput label="Name" value={form.name} onChange={(event) => put({ name: event.currentTarget.value })} />
          <Select label="What it is" data={[...PARTY_KINDS]} value={form.kind} allowDeselect={false} onChange={(value) => put({ kind: value as Party['kind'] })} />
          <TextInput label="Contact" placeholder="noc@provider.example" value={form.contact} onChange={(event) => put({ contact: event.currentTarget.value })} />
          {area('networks', 'Networks of locations', 'Pacífico Cable')}{area('hosts', 'Hosts', '*.orrinsound.example')}{area('ranges', 'Address ranges', '198.51.100.0/24')}
          {error && <div className="notice trouble" role="alert">{error}</div>}
          <Button onClick={save} loading={busy}>Save</Button>
        </div>
      </Modal>
    </>
  )
}

export function RemoveParty({ party, name }: { party: string; name: string }) {
  const [busy, start] = useTransition()
  return <Button variant="subtle" size="compact-sm" loading={busy} aria-label={`Remove ${name}`} onClick={() => start(async () => { const result = await takePartyAway(party); if ('error' in result) notifications.show({ message: result.error, color: 'red' }) })}>Remove</Button>
}
