'use client'

import { Button } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useTransition } from 'react'
import { quieten } from '../../../app/actions/replay'

/** Gives a check a calmer rule in one step; Changes takes it back. */
export function QuietenButton({ check, name, written, version }: { check: string; name: string; written: Parameters<typeof quieten>[1]; version: number }) {
  const [busy, start] = useTransition()
  return <Button variant="default" size="compact-sm" loading={busy} aria-label={`Use that rule for ${name}`} onClick={() => start(async () => {
    const result = await quieten(check, written, version)
    notifications.show('error' in result ? { message: result.error, color: 'red' } : { message: `${name} has its new rule. Changes can take it back.` })
  })}>Use that rule</Button>
}
