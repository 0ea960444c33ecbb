'use client'

import { Button } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useTransition } from 'react'
import { act } from '../../../app/actions/incidents'

/** Takes an incident. */
export function TakeButton({ id, again = false }: { id: number; again?: boolean }) {
  const [busy, start] = useTransition()
  return (
    <Button loading={busy} variant={again ? 'default' : 'filled'} onClick={() => start(async () => {
      const result = await act(id, 'take', {})
      if ('error' in result) notifications.show({ message: result.error, color: 'red' })
    })}>Take it</Button>
  )
}
