'use client'

import { Button } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { undo } from '../../../app/actions/checks'

/** Says what was done, with one press to take it back. */
export function showUndo(message: string, change: number | undefined): void {
  const id = `change-${change ?? 'none'}`
  const takeBack = async () => {
    const result = await undo(change!)
    notifications.hide(id)
    notifications.show('error' in result ? { message: result.error, color: 'red' } : { message: 'It is as it was before.' })
  }
  notifications.show({ id, autoClose: 20_000, message: <span className="row">{message} {change !== undefined && <Button variant="subtle" onClick={() => void takeBack()}>Undo</Button>}</span> })
}
