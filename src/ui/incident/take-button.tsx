'use client'

import { Button } from '@mantine/core'
import { useAct } from './use-act'

/** Takes an incident. */
export function TakeButton({ id, again = false }: { id: number; again?: boolean }) {
  const { busy, run } = useAct()
  return <Button loading={busy} variant={again ? 'default' : 'filled'} onClick={() => run(id, 'take')}>Take it</Button>
}
