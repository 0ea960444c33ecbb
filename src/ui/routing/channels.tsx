'use client'

import { Button, Checkbox, Modal, Select, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useState, useTransition } from 'react'
import { endChannel, makeChannel, testChannel } from '../../../app/actions/workspace'

/** Tests a channel, or takes it away. */
export function ChannelButtons({ id, name }: { id: number; name: string }) {
  const [busy, start] = useTransition()
  return (
    <span className="row" style={{ justifyContent: 'flex-end', flexWrap: 'nowrap' }}>
      <Button variant="default" loading={busy} onClick={() => start(async () => {
        const result = await testChannel(id)
        notifications.show('error' in result ? { message: result.error, color: 'red' } : { message: `A test is on its way to ${name}.` })
      })}>Test</Button>
      <Button variant="subtle" aria-label={`Remove ${name}`} onClick={() => start(async () => void (await endChannel(id)))}>Remove</Button>
    </span>
  )
}

/** Adds a channel by mail or webhook. */
export function NewChannel() {
  const [opened, setOpened] = useState(false)
  const [kind, setKind] = useState<'mail' | 'webhook'>('mail')
  const [values, setValues] = useState<Record<string, string>>({ name: '' })
  const [own, setOwn] = useState(true)
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const field = (name: string, label: string, placeholder = '') => <TextInput label={label} placeholder={placeholder} value={values[name] ?? ''} onChange={(event) => setValues({ ...values, [name]: event.currentTarget.value })} />
  const save = () => start(async () => {
    const { name = '', ...config } = values
    const result = await makeChannel(kind, name, kind === 'mail' ? { to: config.to ?? '' } : { url: config.url ?? '', secret: config.secret ?? '' }, own)
    if ('error' in result) setError(result.error)
    else setOpened(false)
  })
  return (
    <>
      <Button variant="default" onClick={() => setOpened(true)}>New channel</Button>
      <Modal opened={opened} onClose={() => setOpened(false)} title="New channel">
        <div style={{ display: 'grid', gap: 10 }}>
          <Select label="By" data={[{ value: 'mail', label: 'mail' }, { value: 'webhook', label: 'signed webhook' }]} value={kind} allowDeselect={false} onChange={(value) => setKind(value as 'mail' | 'webhook')} />
          {field('name', 'Name')}
          {kind === 'mail' ? field('to', 'Mail address') : <>{field('url', 'Address', 'https://')}{field('secret', 'Secret to sign with')}</>}
          <Checkbox label="It reaches me, not the whole team" checked={own} onChange={(event) => setOwn(event.currentTarget.checked)} />
          {error && <div className="notice trouble" role="alert">{error}</div>}
          <Button onClick={save} loading={busy}>Add</Button>
        </div>
      </Modal>
    </>
  )
}
