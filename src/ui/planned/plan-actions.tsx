'use client'

import { Button, Menu } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useTransition } from 'react'
import { HOUR, MINUTE } from '@/core/units'
import { endPlan, removePlan, turnWindow } from '../../../app/actions/planned'

const say = (result: { error: string } | { value: unknown }, done: string) => notifications.show('error' in result ? { message: result.error, color: 'red' } : { message: done })

/** Ends what is on early, prolongs it, or takes planned time away. */
export function PlanActions({ planKey, title, to }: { planKey: string; title: string; to: number | null }) {
  const [busy, start] = useTransition()
  return (
    <span className="row" style={{ gap: 4, justifyContent: 'flex-end' }}>
      {to !== null && <Button variant="default" loading={busy} onClick={() => start(async () => void say(await endPlan(planKey, Date.now()), `${title} is over.`))}>End it now</Button>}
      {to !== null && (
        <Menu position="bottom-end"><Menu.Target><Button variant="default">Prolong</Button></Menu.Target>
          <Menu.Dropdown>{([[30 * MINUTE, '30 min'], [HOUR, '1 h'], [4 * HOUR, '4 h']] as const).map(([length, name]) => <Menu.Item key={name} onClick={() => start(async () => void say(await endPlan(planKey, to + length), `${title} lasts ${name} longer.`))}>by {name}</Menu.Item>)}</Menu.Dropdown></Menu>
      )}
      <Button variant="subtle" onClick={() => start(async () => void say(await removePlan(planKey), `${title} is no longer planned.`))}>Remove</Button>
    </span>
  )
}

/** Opens and closes a release window by hand. */
export function WindowButton({ place, subject, open }: { place: 'check' | 'service'; subject: string; open: boolean }) {
  const [busy, start] = useTransition()
  if (open) return <Button variant="default" loading={busy} onClick={() => start(async () => void say(await turnWindow(place, subject, false, 0), 'The release window is closed.'))}>Close the release window</Button>
  return (
    <Menu position="bottom-end"><Menu.Target><Button variant="default" loading={busy}>Open a release window</Button></Menu.Target>
      <Menu.Dropdown>{([[15, 'for 15 min'], [60, 'for an hour'], [240, 'for 4 h'], [0, 'until somebody closes it']] as const).map(([minutes, name]) => <Menu.Item key={name} onClick={() => start(async () => void say(await turnWindow(place, subject, true, minutes), 'The release window is open.'))}>{name}</Menu.Item>)}</Menu.Dropdown></Menu>
  )
}
