'use client'

import { Button, Switch } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useTransition } from 'react'
import { pressKey, switchDrill } from '../../../app/actions/drills'

/** Switches one drill. */
export function DrillSwitch({ drill, name, on }: { drill: string; name: string; on: boolean }) {
  const [busy, start] = useTransition()
  return <Switch aria-label={name} checked={on} disabled={busy} onChange={(event) => {
    const wanted = event.currentTarget.checked
    start(async () => {
      const result = await switchDrill(drill, wanted)
      if ('error' in result) notifications.show({ message: result.error, color: 'red' })
    })
  }} />
}

/** Presses 1 in a call that a stand-in phone has picked up. */
export function PressKey({ call }: { call: string }) {
  const [busy, start] = useTransition()
  return <Button variant="default" size="compact-sm" mt={6} loading={busy} onClick={() => start(async () => {
    const result = await pressKey(call, '1')
    notifications.show('error' in result ? { message: result.error, color: 'red' } : { message: `The voice says: ${result.value}` })
  })}>Press 1</Button>
}
