'use client'

import { Button } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useTransition } from 'react'
import { resend } from '../../../app/actions/channels'

/** Sends a message again as it was. */
export function ResendButton({ id, subject }: { id: number; subject: string }) {
  const [busy, start] = useTransition()
  return <Button variant="subtle" size="compact-sm" loading={busy} aria-label={`Send again: ${subject}`} onClick={() => start(async () => {
    const result = await resend(id)
    if ('error' in result) notifications.show({ message: result.error, color: 'red' })
  })}>Again</Button>
}
