'use client'

import { Switch } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useTransition } from 'react'
import { switchDrill } from '../../../app/actions/drills'

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
