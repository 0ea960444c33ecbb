'use client'

import { Button, Menu, Modal, Textarea } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useRef, useState, useTransition } from 'react'
import { act } from '../../../app/actions/incidents'

export interface IncidentActionsProps { id: number; open: boolean; held: boolean; mine: boolean; notReal: boolean; people: { id: number; name: string }[] }

function useAct(id: number) {
  const [busy, start] = useTransition()
  const run = (what: Parameters<typeof act>[1], given: { to?: number; text?: string } = {}, done?: () => void) => start(async () => {
    const result = await act(id, what, given)
    if ('error' in result) notifications.show({ message: result.error, color: 'red' })
    else done?.()
  })
  return { busy, run }
}

/** Take, hand over, not real, close. */
export function IncidentActions({ id, open, held, mine, notReal, people }: IncidentActionsProps) {
  const { busy, run } = useAct(id)
  const [closing, setClosing] = useState(false)
  const [words, setWords] = useState('')
  useHotkeys([['t', () => { if (open && !mine) run('take') }]])
  return (
    <div className="row">
      {open && !mine && <Button onClick={() => run('take')} loading={busy} variant={held ? 'default' : 'filled'}>Take it <kbd style={{ marginLeft: 6, opacity: 0.8 }}>t</kbd></Button>}
      {open && <Menu position="bottom-end"><Menu.Target><Button variant="default">Hand to…</Button></Menu.Target>
        <Menu.Dropdown>{people.map((person) => <Menu.Item key={person.id} onClick={() => run('hand-over', { to: person.id })}>{person.name}</Menu.Item>)}</Menu.Dropdown></Menu>}
      {!notReal && <Button variant="default" onClick={() => run('not-real')} disabled={busy}>Not real</Button>}
      {open && <Button variant="default" onClick={() => setClosing(true)}>Close…</Button>}
      <Modal opened={closing} onClose={() => setClosing(false)} title="Close the incident">
        <Textarea label="What was it?" description="Stays with the incident. Closing does not end the trouble; if it goes on, it is called again after the next recovery." value={words} onChange={(event) => setWords(event.currentTarget.value)} autosize minRows={3} data-autofocus />
        <Button mt={12} loading={busy} onClick={() => run('close', { text: words }, () => setClosing(false))}>Close it</Button>
      </Modal>
    </div>
  )
}

/** A field for a note, below what happened. */
export function NoteField({ id }: { id: number }) {
  const { busy, run } = useAct(id)
  const [text, setText] = useState('')
  const field = useRef<HTMLTextAreaElement>(null)
  useHotkeys([['w', () => field.current?.focus()]])
  const send = () => { if (text.trim() !== '') run('note', { text }, () => setText('')) }
  return (
    <div style={{ marginTop: 12 }}>
      <Textarea ref={field} aria-label="Write a note" placeholder="Write a note" autosize minRows={1} maxRows={8} value={text} onChange={(event) => setText(event.currentTarget.value)}
        onKeyDown={(event) => { if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) send() }} />
      {text.trim() !== '' && <Button mt={6} onClick={send} loading={busy}>Add the note</Button>}
    </div>
  )
}
