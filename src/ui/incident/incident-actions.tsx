'use client'

import { Button, FileButton, Menu, Modal, MultiSelect, Textarea } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
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
  const [taking, setTaking] = useState(0)
  const send = () => { if (text.trim() !== '') run(id, 'note', { text }, () => setText('')) }
  /** Uploads pictures and puts each where the cursor is. Gives whether there were any. */
  const take = (files: FileList | null | undefined): boolean => {
    const pictures = [...(files ?? [])].filter((file) => file.type.startsWith('image/'))
    for (const picture of pictures) {
      setTaking((count) => count + 1)
      void addPicture(id, picture).then(
        (path) => setText((before) => { const at = field.current?.selectionStart ?? before.length; return `${before.slice(0, at)}![${picture.name.replace(/[[\]\n]/g, ' ')}](${path})\n${before.slice(at)}` }),
        (error: Error) => notifications.show({ message: error.message, color: 'red' })
      ).finally(() => setTaking((count) => count - 1))
    }
    return pictures.length > 0
  }
  return (
    <div style={{ marginTop: 12 }} onDragOver={(event) => event.preventDefault()} onDrop={(event) => { if (take(event.dataTransfer.files)) event.preventDefault() }}>
      <Textarea ref={field} aria-label="Write a note" placeholder="Write a note; Markdown, pictures can be pasted" autosize onPaste={(event) => { if (take(event.clipboardData.files)) event.preventDefault() }} minRows={1} maxRows={8} value={text} onChange={(event) => setText(event.currentTarget.value)}
        onKeyDown={(event) => { if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) send() }} />
      <div className="row" style={{ marginTop: 6 }}>
        {text.trim() !== '' && <Button onClick={send} loading={busy} disabled={taking > 0}>Add the note</Button>}
        <FileButton onChange={(file) => { if (file) { const list = new DataTransfer(); list.items.add(file); take(list.files) } }} accept="image/png,image/jpeg,image/gif,image/webp">{(props) => <Button variant="subtle" loading={taking > 0} {...props}>Add a picture</Button>}</FileButton>
      </div>
    </div>
  )
}

/** Hands a picture over; gives the address it is shown at. Rejects with a sentence. */
async function addPicture(incident: number, picture: File): Promise<string> {
  const answer = await fetch(`/api/incidents/${incident}/pictures`, { method: 'POST', body: picture })
  const body = (await answer.json().catch(() => ({}))) as { path?: string; detail?: string; errors?: { detail: string }[] }
  if (!answer.ok || body.path === undefined) throw new Error(body.errors?.[0]?.detail ?? body.detail ?? 'The picture could not be kept.')
  return body.path
}
