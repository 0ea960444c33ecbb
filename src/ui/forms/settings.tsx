'use client'

import { Button, Checkbox, CopyButton, NumberInput, PasswordInput, Select, TextInput } from '@mantine/core'
import { useForm } from '@mantine/form'
import { notifications } from '@mantine/notifications'
import { useState, useTransition } from 'react'
import { endToken, makeToken, saveSettings, type SettingsForm as Values } from '../../../app/actions/workspace'

const grid: React.CSSProperties = { display: 'grid', gridTemplateColumns: 'repeat(auto-fit, minmax(210px, 1fr))', gap: 12 }

/** The workspace's settings. */
export function SettingsForm({ values, zones, editable }: { values: Values; zones: string[]; editable: boolean }) {
  const form = useForm({ initialValues: values })
  const [busy, start] = useTransition()
  const [error, setError] = useState<string>()
  const number = (path: string, label: string, description?: string) => <NumberInput label={label} description={description} {...form.getInputProps(path)} />
  return (
    <form onSubmit={form.onSubmit((given) => start(async () => {
      const result = await saveSettings({ ...given, proxies: Number(given.proxies) })
      setError('error' in result ? result.error : undefined)
      if ('value' in result) notifications.show({ message: 'Settings saved.' })
    }))}>
      <fieldset disabled={!editable} style={{ border: 0, padding: 0, margin: 0, display: 'grid', gap: 16 }}>
        <div className="card pad" style={grid}>
          <TextInput label="Name of the workspace" {...form.getInputProps('name')} />
          <Select label="Time zone" searchable data={zones} allowDeselect={false} {...form.getInputProps('zone')} />
          <Select label="Theme" description="for everyone who has not chosen" data={[{ value: 'auto', label: 'as the system' }, { value: 'light', label: 'day' }, { value: 'dark', label: 'night' }]} allowDeselect={false} {...form.getInputProps('theme')} />
          <TextInput label="Address people open Hemeron at" description="links in messages begin with it" placeholder="https://hemeron.example" {...form.getInputProps('address')} />
          {number('proxies', 'Proxies before Hemeron', 'so many entries of X-Forwarded-For are believed')}
        </div>
        <div className="card pad"><h2 style={{ marginBottom: 8 }}>How long data is kept, in days</h2><div style={grid}>
          {number('keep.observation', 'Single observations')}{number('keep.evidence', 'Answers and certificates')}{number('keep.rollup5m', 'Windows of 5 minutes')}{number('keep.rollup1h', 'Windows of an hour')}{number('keep.rollup1d', 'Windows of a day')}{number('keep.delivery', 'Sent messages')}
        </div></div>
        <div className="card pad"><h2 style={{ marginBottom: 8 }}>Mail server</h2><div style={grid}>
          <TextInput label="Host" {...form.getInputProps('mail.host')} />{number('mail.port', 'Port')}<TextInput label="User" autoComplete="off" {...form.getInputProps('mail.user')} />
          <PasswordInput label="Password" description="empty keeps the present one" autoComplete="new-password" {...form.getInputProps('mail.password')} /><TextInput label="From" {...form.getInputProps('mail.from')} />
          <Checkbox label="TLS from the start" mt={28} {...form.getInputProps('mail.secure', { type: 'checkbox' })} />
        </div></div>
        <div className="card pad"><h2 style={{ marginBottom: 4 }}>Gateways for texts and calls</h2>
          <p className="quiet small" style={{ marginTop: 0 }}>Each serves the countries it names; one without countries serves the rest. What is posted there stands in the documentation.</p>
          {form.values.gateways.map((gateway, index) => (
            <div key={index} style={{ ...grid, borderTop: index === 0 ? undefined : '1px solid var(--line)', paddingTop: index === 0 ? 0 : 10, marginBottom: 10 }}>
              <TextInput label="Name" {...form.getInputProps(`gateways.${index}.name`)} /><Select label="Carries" data={[{ value: 'sms', label: 'SMS' }, { value: 'voice', label: 'voice' }]} allowDeselect={false} {...form.getInputProps(`gateways.${index}.means`)} />
              <TextInput label="Address" {...form.getInputProps(`gateways.${index}.url`)} /><PasswordInput label="Token" description="empty keeps the present one" autoComplete="new-password" {...form.getInputProps(`gateways.${index}.token`)} />
              <TextInput label="From" {...form.getInputProps(`gateways.${index}.from`)} />
              <TextInput label="Countries" placeholder="NO, GB" value={gateway.countries.join(', ')} onChange={(event) => form.setFieldValue(`gateways.${index}.countries`, event.currentTarget.value.toUpperCase().split(/[\s,]+/).filter((each) => each !== ''))} />
              <div style={{ alignSelf: 'end' }}><Button variant="subtle" onClick={() => form.removeListItem('gateways', index)}>Take away</Button></div>
            </div>
          ))}
          <Button variant="default" onClick={() => form.insertListItem('gateways', { name: '', means: 'sms', url: 'https://', token: '', from: '', countries: [] })}>Add a gateway</Button>
        </div>
        {error && <div className="notice trouble" role="alert">{error}</div>}
        <div><Button type="submit" loading={busy}>Save</Button>{!editable && <span className="quiet small"> Only an owner changes settings.</span>}</div>
      </fieldset>
    </form>
  )
}

function Shown({ secret }: { secret: string }) {
  return <div className="notice" role="status"><div className="small">Copy it now; it is not shown again.</div><code style={{ overflowWrap: 'anywhere' }}>{secret}</code> <CopyButton value={secret}>{({ copied, copy }) => <Button variant="subtle" onClick={copy}>{copied ? 'Copied' : 'Copy'}</Button>}</CopyButton></div>
}

/** Makes API tokens. */
export function TokenForm() {
  const [name, setName] = useState('')
  const [scope, setScope] = useState<'read' | 'respond' | 'write'>('read')
  const [days, setDays] = useState('90')
  const [secret, setSecret] = useState<string>()
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <div className="row" style={{ alignItems: 'flex-end' }}>
        <TextInput size="xs" label="What it is for" value={name} onChange={(event) => setName(event.currentTarget.value)} />
        <Select size="xs" label="It may" w={170} data={[{ value: 'read', label: 'read' }, { value: 'respond', label: 'read and respond' }, { value: 'write', label: 'read and change' }]} value={scope} allowDeselect={false} onChange={(value) => setScope(value as 'read')} />
        <Select size="xs" label="It ends" w={130} data={[{ value: '30', label: 'in 30 days' }, { value: '90', label: 'in 90 days' }, { value: '365', label: 'in a year' }, { value: '0', label: 'never' }]} value={days} allowDeselect={false} onChange={(value) => setDays(value ?? '90')} />
        <Button loading={busy} onClick={() => start(async () => {
          const result = await makeToken(name, scope, Number(days))
          setError('error' in result ? result.error : undefined)
          if ('value' in result) setSecret(result.value)
        })}>Make a token</Button>
      </div>
      {error && <div className="notice trouble" role="alert">{error}</div>}
      {secret && <Shown secret={secret} />}
    </div>
  )
}

export function EndTokenButton({ id }: { id: number }) {
  const [busy, start] = useTransition()
  return <Button variant="subtle" loading={busy} onClick={() => start(async () => void (await endToken(id)))}>End it</Button>
}
