'use client'

import { Button } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useTransition } from 'react'
import { undo } from '../../../app/actions/checks'
import { restore } from '../../../app/actions/history'

/** Takes back everything one change did. */
export function UndoButton({ change }: { change: number }) {
  const [busy, start] = useTransition()
  return <Button variant="default" loading={busy} onClick={() => start(async () => {
    const result = await undo(change)
    notifications.show('error' in result ? { message: result.error, color: 'red' } : { message: 'It is as it was before.' })
  })}>Undo</Button>
}

/** Puts an earlier version in place again, as a new one. */
export function RestoreButton({ kind, subject, version }: { kind: 'check' | 'service' | 'workspace'; subject: number; version: number }) {
  const [busy, start] = useTransition()
  return <Button variant="default" loading={busy} onClick={() => start(async () => {
    const result = await restore(kind, subject, version)
    notifications.show('error' in result ? { message: result.error, color: 'red' } : { message: `Version ${version} is in place again.` })
  })}>Restore</Button>
}
