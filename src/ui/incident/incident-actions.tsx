'use client'

import { Button, Menu, Modal, MultiSelect, Textarea } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { useRef, useState } from 'react'
import { MINUTE } from '@/core/units'
import { useAct } from './use-act'

export interface IncidentActionsProps {
  id: number
  open: boolean
  held: boolean
  mine: boolean
  notReal: boolean
  practice: boolean
  /** A further step is to come. */
  further: boolean
  people: { id: number; name: string }[]
  /** Whom one can call in. */
  callable: { value: string; label: string }[]
  /** Other open incidents. */
  others: { id: number; name: string }[]
}

const HOLD_OFF = [15, 30, 60, 240]

/** Take, hand over, call in, and what else one can do with an incident. */
export function IncidentActions({ id, open, held, mine, notReal, practice, further, people, callable, others }: IncidentActionsProps) {
  const { busy, run } = useAct()
  const [asking, setAsking] = useState<'close' | 'call' | 'join'>()
  useHotkeys([['t', () => { if (open && !mine) run(id, 'take') }]])
  const done = () => setAsking(undefined)
  return (
    <div className="row">
      {open && !mine && <Button onClick={() => run(id, 'take')} loading={busy} variant={held ? 'default' : 'filled'}>Take it <kbd style={{ marginLeft: 6, opacity: 0.8 }}>t</kbd></Button>}
      {open && <Button variant="default" onClick={() => setAsking('call')}>Call in…</Button>}
      {open && <Menu position="bottom-end"><Menu.Target><Button variant="default">Hand to…</Button></Menu.Target>
        <Menu.Dropdown mah={420} style={{ overflowY: 'auto' }}>{people.map((person) => <Menu.Item key={person.id} onClick={() => run(id, 'hand-over', { to: person.id })}>{person.name}</Menu.Item>)}</Menu.Dropdown></Menu>}
      {(open || !notReal) && <Menu position="bottom-end"><Menu.Target><Button variant="default">More</Button></Menu.Target>
        <Menu.Dropdown>
          {open && further && <Menu.Item onClick={() => run(id, 'escalate')}>Next step now</Menu.Item>}
          {open && <Menu.Label>Hold off: tell nobody else for</Menu.Label>}
          {open && HOLD_OFF.map((minutes) => <Menu.Item key={minutes} onClick={() => run(id, 'hold-off', { until: Date.now() + minutes * MINUTE })}>{minutes < 60 ? `${minutes} min` : `${minutes / 60} h`}</Menu.Item>)}
          {open && <Menu.Divider />}
          {open && !practice && others.length > 0 && <Menu.Item onClick={() => setAsking('join')}>It belongs to another incident…</Menu.Item>}
          {!notReal && !practice && <Menu.Item onClick={() => run(id, 'not-real')}>Not real</Menu.Item>}
          {open && <Menu.Item onClick={() => setAsking('close')}>{practice ? 'End the practice' : 'Close…'}</Menu.Item>}
        </Menu.Dropdown></Menu>}
      <Modal opened={asking === 'close'} onClose={done} title={practice ? 'End the practice outage' : 'Close the incident'}>
        <Words label="What was it?" description={practice ? 'Those who were told hear that it is over.' : 'Stays with the incident. Closing does not end the trouble; if it goes on, it is called again after the next recovery.'} act={practice ? 'End it' : 'Close it'} busy={busy} send={(text) => run(id, 'close', { text }, done)} />
      </Modal>
      <Modal opened={asking === 'call'} onClose={done} title="Call others in"><CallIn callable={callable} busy={busy} send={(tell, text) => run(id, 'call-in', { tell, text }, done)} /></Modal>
      <Modal opened={asking === 'join'} onClose={done} title="It belongs to"><div className="stack" style={{ gap: 6 }}>{others.map((other) => <Button key={other.id} variant="default" justify="flex-start" disabled={busy} onClick={() => run(id, 'join', { into: other.id }, done)}>{other.name}</Button>)}</div></Modal>
    </div>
  )
}

function Words({ label, description, act, busy, send }: { label: string; description: string; act: string; busy: boolean; send: (text: string) => void }) {
  const [words, setWords] = useState('')
  return <><Textarea label={label} description={description} value={words} onChange={(event) => setWords(event.currentTarget.value)} autosize minRows={3} data-autofocus /><Button mt={12} loading={busy} onClick={() => send(words)}>{act}</Button></>
}

function CallIn({ callable, busy, send }: { callable: IncidentActionsProps['callable']; busy: boolean; send: (tell: string[], text: string) => void }) {
  const [tell, setTell] = useState<string[]>([])
  return (
    <div className="stack" style={{ gap: 10 }}>
      <MultiSelect label="Whom" description="They are told at once, also in quiet hours." data={callable} value={tell} onChange={setTell} searchable data-autofocus />
      {tell.length > 0 && <Words label="What for?" description="Stands in the message." act="Call them in" busy={busy} send={(text) => send(tell, text)} />}
    </div>
  )
}

/** A field for a note, below what happened. */
export function NoteField({ id }: { id: number }) {
  const { busy, run } = useAct()
  const [text, setText] = useState('')
  const field = useRef<HTMLTextAreaElement>(null)
  useHotkeys([['w', () => field.current?.focus()]])
  const send = () => { if (text.trim() !== '') run(id, 'note', { text }, () => setText('')) }
  return (
    <div style={{ marginTop: 12 }}>
      <Textarea ref={field} aria-label="Write a note" placeholder="Write a note" autosize minRows={1} maxRows={8} value={text} onChange={(event) => setText(event.currentTarget.value)}
        onKeyDown={(event) => { if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) send() }} />
      {text.trim() !== '' && <Button mt={6} onClick={send} loading={busy}>Add the note</Button>}
    </div>
  )
}
