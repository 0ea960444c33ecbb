'use client'

import { Button } from '@mantine/core'
import { useState, useTransition } from 'react'
import { takeFromMessage } from '../../../app/actions/incidents'

/** Takes an incident from the link in a message. It needs a press: programs that look into mail open links by themselves. */
export function TakeByLink({ token, name, used }: { token: string; name: string; used: boolean }) {
  const [said, setSaid] = useState<string>()
  const [busy, start] = useTransition()
  if (said) return <p className="strong" role="status">{said}</p>
  if (used) return <p className="strong">This link was used before.</p>
  return <Button size="md" fullWidth loading={busy} onClick={() => start(async () => {
    const result = await takeFromMessage(token)
    setSaid('error' in result ? result.error : result.value)
  })}>Take it as {name}</Button>
}
