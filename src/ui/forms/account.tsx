'use client'

import { Button, PasswordInput, SegmentedControl, useMantineColorScheme } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useEffect, useState, useTransition } from 'react'
import { changeOwnPassword, chooseTheme } from '../../../app/actions/account'
import { makeChannel } from '../../../app/actions/channels'

/** The theme a person sees, wherever they sign in. */
export function ThemeChoice({ theme }: { theme: 'light' | 'dark' | 'auto' }) {
  const { setColorScheme } = useMantineColorScheme()
  return <SegmentedControl aria-label="Theme" defaultValue={theme} data={[{ value: 'light', label: 'Day' }, { value: 'dark', label: 'Night' }, { value: 'auto', label: 'As the system' }]}
    onChange={(value) => {
      setColorScheme(value as 'light')
      void chooseTheme(value as 'light')
    }} />
}

/** Changes the password; every other session ends. */
export function PasswordForm() {
  const [values, setValues] = useState({ before: '', after: '' })
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  return (
    <div style={{ display: 'grid', gap: 10, maxWidth: 340 }}>
      <PasswordInput label="Present password" autoComplete="current-password" value={values.before} onChange={(event) => setValues({ ...values, before: event.currentTarget.value })} />
      <PasswordInput label="New password" description="10 characters or more" autoComplete="new-password" value={values.after} onChange={(event) => setValues({ ...values, after: event.currentTarget.value })} />
      {error && <div className="notice trouble" role="alert">{error}</div>}
      <div><Button loading={busy} onClick={() => start(async () => {
        const result = await changeOwnPassword(values.before, values.after)
        setError('error' in result ? result.error : undefined)
        if ('value' in result) {
          setValues({ before: '', after: '' })
          notifications.show({ message: 'The password is changed; every other session has ended.' })
        }
      })}>Change it</Button></div>
    </div>
  )
}

/** Lets this browser receive push messages (RFC 8030). Says why when it cannot. */
export function PushHere({ publicKey, person, personKey }: { publicKey: string; person: string; personKey: string }) {
  const [why, setWhy] = useState<string>()
  const [busy, start] = useTransition()
  useEffect(() => {
    if (!('serviceWorker' in navigator) || !('PushManager' in window)) setWhy('This browser cannot receive push messages here; they need https, or an address of this machine.')
  }, [])
  const subscribe = () => start(async () => {
    try {
      const worker = await navigator.serviceWorker.register('/push.js')
      const subscription = await worker.pushManager.subscribe({ userVisibleOnly: true, applicationServerKey: publicKey })
      const { endpoint, keys } = subscription.toJSON()
      const result = await makeChannel('push', `${person} by push, this browser`, { endpoint: endpoint ?? '', p256dh: keys?.p256dh ?? '', auth: keys?.auth ?? '' }, personKey)
      if ('error' in result) setWhy(result.error)
      else notifications.show({ message: 'This browser receives push messages now. Test it under Routing.' })
    } catch (error) {
      setWhy(`The browser would not: ${error instanceof Error ? error.message : String(error)}`)
    }
  })
  return <div>{why ? <span className="quiet">{why}</span> : <Button variant="default" loading={busy} onClick={subscribe}>Send push messages to this browser</Button>}</div>
}
