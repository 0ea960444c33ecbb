'use client'

import { Button, Menu } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useTransition } from 'react'
import { act } from '../../../app/actions/incidents'

/** Puts a verdict into an incident as a note. */
export function VerdictActions({ incidents, text }: { incidents: { id: number; name: string }[]; text: string }) {
  const [busy, start] = useTransition()
  const put = (id: number) => start(async () => {
    const result = await act(id, 'note', { text: `${text}\n${window.location.href}` })
    notifications.show('error' in result ? { message: result.error, color: 'red' } : { message: 'It stands in the incident now, with the address of this view.' })
  })
  if (incidents.length === 1) return <Button loading={busy} onClick={() => put(incidents[0]!.id)}>Put in the incident</Button>
  return (
    <Menu position="bottom-end"><Menu.Target><Button loading={busy}>Put in an incident…</Button></Menu.Target>
      <Menu.Dropdown>{incidents.slice(0, 12).map((each) => <Menu.Item key={each.id} onClick={() => put(each.id)}>{each.name}</Menu.Item>)}</Menu.Dropdown></Menu>
  )
}
