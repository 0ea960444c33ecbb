'use client'

import { notifications } from '@mantine/notifications'
import { useTransition } from 'react'
import { act } from '../../../app/actions/incidents'

/** Acts on incidents and says what went wrong. */
export function useAct() {
  const [busy, start] = useTransition()
  const run = (id: number, what: Parameters<typeof act>[1], given: Parameters<typeof act>[2] = {}, done?: () => void) => start(async () => {
    const result = await act(id, what, given)
    if ('error' in result) notifications.show({ message: result.error, color: 'red' })
    else done?.()
  })
  return { busy, run }
}
