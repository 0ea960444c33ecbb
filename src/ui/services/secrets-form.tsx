'use client'

import { Button, PasswordInput, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useState, useTransition } from 'react'
import { isVariableName } from '@/core/layers/variables'
import { putSecret } from '../../../app/actions/services'

/** Secrets by name. A value can be set and replaced; it is never shown. */
export function SecretsForm({ service, secrets }: { service: string | null; secrets: { name: string; set: boolean }[] }) {
  const [adding, setAdding] = useState(false)
  return (
    <div style={{ display: 'grid', gap: 6 }}>
      {secrets.map(({ name, set }) => <SecretRow key={name} service={service} name={name} isSet={set} />)}
      {adding ? <SecretRow service={service} isSet={false} done={() => setAdding(false)} /> : <div><Button variant="subtle" px={0} onClick={() => setAdding(true)}>+ secret</Button></div>}
    </div>
  )
}

function SecretRow({ service, name: given, isSet, done }: { service: string | null; name?: string; isSet: boolean; done?: () => void }) {
  const [name, setName] = useState(given ?? '')
  const [value, setValue] = useState('')
  const [open, setOpen] = useState(!isSet)
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const save = () => start(async () => {
    if (!isVariableName(name)) return setError('A name has letters, digits and _.')
    const result = await putSecret(service, name, value)
    if ('error' in result) return setError(result.error)
    setValue('')
    setError(undefined)
    setOpen(false)
    notifications.show({ message: `${name} is set. It is not shown again.` })
    return done?.()
  })
  return (
    <div className="row" style={{ alignItems: 'flex-start' }}>
      {given ? <code style={{ width: 170, paddingTop: 4, overflowWrap: 'anywhere' }}>{given}</code> : <TextInput size="xs" w={170} aria-label="Name of the secret" placeholder="API_TOKEN" value={name} onChange={(event) => setName(event.currentTarget.value)} styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)' } }} />}
      {open ? <><PasswordInput size="xs" style={{ flex: 1, minWidth: 140 }} aria-label={`Value of ${name || 'the secret'}`} placeholder="its value" autoComplete="new-password" value={value} error={error} onChange={(event) => setValue(event.currentTarget.value)} onKeyDown={(event) => { if (event.key === 'Enter') save() }} /><Button loading={busy} onClick={save}>Set it</Button></>
        : <><span className="quiet" style={{ flex: 1, paddingTop: 4 }}>is set, and never shown</span><Button variant="subtle" onClick={() => setOpen(true)}>Replace it</Button></>}
      {!given && <Button variant="subtle" onClick={done}>Leave it</Button>}
    </div>
  )
}
