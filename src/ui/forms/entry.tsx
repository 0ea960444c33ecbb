'use client'

import { Alert, Button, PasswordInput, TextInput } from '@mantine/core'
import { useForm } from '@mantine/form'
import { useState, useTransition } from 'react'
import { acceptInvite, confirmByLink, makeFirstAccount, signIn } from '../../../app/actions/account'

const frame: React.CSSProperties = { maxWidth: 380, margin: '12vh auto 0', padding: 28 }

/** The sign-in. */
export function SignIn({ name }: { name: string }) {
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const form = useForm({ initialValues: { mail: '', password: '' } })
  return (
    <main className="card" style={frame}>
      <h1>Sign in to {name}</h1>
      <form onSubmit={form.onSubmit((values) => start(async () => {
        const result = await signIn(values.mail, values.password)
        if (result && 'error' in result) setError(result.error)
      }))} style={{ display: 'grid', gap: 12, marginTop: 16 }}>
        {error && <Alert color="red" role="alert">{error}</Alert>}
        <TextInput label="Mail address" type="email" autoComplete="username" required autoFocus {...form.getInputProps('mail')} />
        <PasswordInput label="Password" autoComplete="current-password" required {...form.getInputProps('password')} />
        <Button type="submit" loading={busy} size="sm">Sign in</Button>
      </form>
    </main>
  )
}

/** The very first account of a new workspace. */
export function FirstAccount() {
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const form = useForm({ initialValues: { name: '', mail: '', password: '' }, validate: { password: (value) => (value.length < 10 ? 'At least 10 characters' : null) } })
  return (
    <main className="card" style={frame}>
      <h1>The first account</h1>
      <p className="quiet">It owns this workspace and is told about outages.</p>
      <form onSubmit={form.onSubmit((values) => start(async () => {
        const result = await makeFirstAccount(values.name, values.mail, values.password)
        if (result && 'error' in result) setError(result.error)
      }))} style={{ display: 'grid', gap: 12 }}>
        {error && <Alert color="red" role="alert">{error}</Alert>}
        <TextInput label="Your name" autoComplete="name" required autoFocus {...form.getInputProps('name')} />
        <TextInput label="Mail address" type="email" autoComplete="username" required {...form.getInputProps('mail')} />
        <PasswordInput label="Password" description="10 characters or more" autoComplete="new-password" required {...form.getInputProps('password')} />
        <Button type="submit" loading={busy} size="sm">Begin</Button>
      </form>
    </main>
  )
}

/** An invited person chooses a password. */
export function Welcome({ token, name, mail }: { token: string; name: string; mail: string }) {
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const form = useForm({ initialValues: { password: '' }, validate: { password: (value) => (value.length < 10 ? 'At least 10 characters' : null) } })
  return (
    <main className="card" style={frame}>
      <h1>Welcome, {name}</h1>
      <p className="quiet">You sign in as {mail}, with a password of your own.</p>
      <form onSubmit={form.onSubmit(({ password }) => start(async () => {
        const result = await acceptInvite(token, password)
        if (result && 'error' in result) setError(result.error)
      }))} style={{ display: 'grid', gap: 12 }}>
        {error && <Alert color="red" role="alert">{error}</Alert>}
        <PasswordInput label="Password" description="10 characters or more" autoComplete="new-password" required autoFocus {...form.getInputProps('password')} />
        <Button type="submit" loading={busy} size="sm">Begin</Button>
      </form>
    </main>
  )
}

/** Confirms an address with one press: programs that look into mail open links by themselves. */
export function ConfirmHere({ token, workspace }: { token: string; workspace: string }) {
  const [said, setSaid] = useState<{ text: string; isWrong: boolean }>()
  const [busy, start] = useTransition()
  return (
    <main className="card" style={frame}>
      <h1>Messages about outages</h1>
      <p>{workspace} wants to send messages about outages to the address that this link came to.</p>
      {said ? <p className={said.isWrong ? 'down-text strong' : 'strong'} role="status">{said.text}</p> : <Button size="sm" loading={busy} onClick={() => start(async () => {
        const result = await confirmByLink(token)
        setSaid('error' in result ? { text: result.error, isWrong: true } : { text: 'Confirmed. Messages come here from now on.', isWrong: false })
      })}>Yes, send them here</Button>}
    </main>
  )
}
