'use client'

import { Button, Menu, Modal, NumberInput, Select, Textarea, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useState, useTransition } from 'react'
import type { Behaviour } from '@/core/channels/read-channel'
import { fillTemplate, MESSAGE_VALUES } from '@/core/messages/template'
import { MEANS_WORDS, type Means } from '@/core/routing/means'
import { askForCode, confirmCode, endChannel, makeChannel, saveChannel, testChannel } from '../../../app/actions/channels'
import type { Result } from '../../../app/actions/result'

function useTry() {
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const run = (work: () => Promise<Result<unknown>>, done?: () => void) => start(async () => {
    const result = await work()
    setError('error' in result ? result.error : undefined)
    if (!('error' in result)) done?.()
  })
  return { error: error === undefined ? null : <div className="notice trouble" role="alert">{error}</div>, busy, run, fail: setError }
}

export interface ChannelLine { id: number; key: string; name: string; kind: Means; confirmed: boolean; behaviour: Behaviour; mayChange: boolean }

/** Tests a channel, confirms it, changes how it behaves, or takes it away. */
export function ChannelButtons({ channel, others }: { channel: ChannelLine; others: { key: string; name: string }[] }) {
  const { busy, run, error } = useTry()
  const [asking, setAsking] = useState<'code' | 'change'>()
  const done = () => setAsking(undefined)
  const { id, name, confirmed, mayChange } = channel
  return (
    <span className="row" style={{ justifyContent: 'flex-end', flexWrap: 'nowrap' }}>
      {confirmed ? <Button variant="default" loading={busy} onClick={() => run(async () => {
        const result = await testChannel(id)
        notifications.show('error' in result ? { message: result.error, color: 'red' } : { message: `A test is on its way to ${name}.` })
        return result
      })}>Test</Button> : mayChange && <Button variant="default" onClick={() => setAsking('code')}>Confirm…</Button>}
      {mayChange && <Menu position="bottom-end"><Menu.Target><Button variant="subtle" aria-label={`More about ${name}`}>More</Button></Menu.Target><Menu.Dropdown>
        <Menu.Item onClick={() => setAsking('change')}>Change…</Menu.Item>
        <Menu.Item onClick={() => run(() => endChannel(id))}>Remove</Menu.Item>
      </Menu.Dropdown></Menu>}
      <Modal opened={asking === 'code'} onClose={done} title={`Confirm ${name}`}><CodeForm id={id} done={done} /></Modal>
      <Modal opened={asking === 'change'} onClose={done} title={name} size="lg"><BehaviourForm channel={channel} others={others} done={done} /></Modal>
      {asking === undefined && error}
    </span>
  )
}

function CodeForm({ id, done }: { id: number; done: () => void }) {
  const { busy, run, error } = useTry()
  const [code, setCode] = useState('')
  return (
    <form style={{ display: 'grid', gap: 10 }} onSubmit={(event) => { event.preventDefault(); run(() => confirmCode(id, code), done) }}>
      <TextInput label="Code" description="Six digits came there when the channel was added" inputMode="numeric" autoComplete="one-time-code" value={code} onChange={(event) => setCode(event.currentTarget.value)} data-autofocus />
      {error}
      <span className="row"><Button type="submit" loading={busy}>Confirm</Button><Button variant="subtle" onClick={() => run(() => askForCode(id), () => notifications.show({ message: 'Another code is on its way.' }))}>Send another code</Button></span>
    </form>
  )
}

const EXAMPLE = { news: 'down' as const, subject: 'Sailings API is down', lines: ['Sailings API is down, in Ticket sales, production.', 'Why: the status is 503', 'Where: at 5 of 12 locations.'], urgent: true, thread: '', facts: { ...MESSAGE_VALUES } as Record<string, string>, link: 'https://hemeron.example/incidents/812', take: 'https://hemeron.example/take/…' }

function BehaviourForm({ channel, others, done }: { channel: ChannelLine; others: { key: string; name: string }[]; done: () => void }) {
  const { busy, run, error } = useTry()
  const { behaviour, kind } = channel
  const [name, setName] = useState(channel.name)
  const [fallback, setFallback] = useState<string | null>(behaviour.fallback ?? null)
  const [most, setMost] = useState<number | string>(behaviour.limit?.most ?? '')
  const [minutes, setMinutes] = useState<number | string>(behaviour.limit?.minutes ?? 60)
  const [words, setWords] = useState(behaviour.words ?? '')
  const save = () => run(() => saveChannel(channel.id, name, {
    ...(words.trim() === '' ? {} : { words }), ...(fallback === null ? {} : { fallback }), ...(most === '' ? {} : { limit: { most: Number(most), minutes: Number(minutes) } })
  }), done)
  return (
    <div style={{ display: 'grid', gap: 12 }}>
      <TextInput label="Name" value={name} onChange={(event) => setName(event.currentTarget.value)} />
      <Select label="What stands in when it fails" description={channel.mayChange ? 'By itself, another channel of the same person' : undefined} placeholder="another channel of the same person" clearable searchable data={others.filter((each) => each.key !== channel.key).map((each) => ({ value: each.key, label: each.name }))} value={fallback} onChange={setFallback} />
      <span className="row" style={{ alignItems: 'flex-end' }}><NumberInput label="At most" placeholder="any number" min={1} value={most} onChange={setMost} w={120} /><NumberInput label="messages in minutes" min={1} value={minutes} onChange={setMinutes} w={150} /></span>
      {kind !== 'push' && <>
        <Textarea label="Own words" description={kind === 'webhook' ? 'JSON; without them, everything Hemeron knows is sent' : 'Without them, what, why, where and since when'} autosize minRows={2} maxRows={10} value={words} onChange={(event) => setWords(event.currentTarget.value)} placeholder={kind === 'webhook' ? '{ "what": "${subject}", "why": "${reason}" }' : '${subject}: ${reason} ${link}'} />
        <details className="small"><summary className="quiet">What can stand in them</summary><div style={{ marginTop: 6 }}>{Object.entries(MESSAGE_VALUES).map(([value, example]) => <div key={value}><code>{`\${${value}}`}</code> <span className="quiet">{example}</span></div>)}</div></details>
        {words.trim() !== '' && <div><b className="small">As it would read</b><pre className="card pad" style={{ whiteSpace: 'pre-wrap' }}>{fillTemplate(words, EXAMPLE, kind === 'webhook' ? 'json' : 'text')}</pre></div>}
      </>}
      {error}
      <div><Button loading={busy} onClick={save}>Save</Button></div>
    </div>
  )
}

const FIELDS: Partial<Record<Means, { name: string; label: string; placeholder?: string }[]>> = {
  mail: [{ name: 'to', label: 'Mail address' }], sms: [{ name: 'number', label: 'Phone number', placeholder: '+44 7700 900123' }], voice: [{ name: 'number', label: 'Phone number', placeholder: '+44 7700 900123' }],
  chat: [{ name: 'url', label: 'Address of its incoming webhook', placeholder: 'https://' }, { name: 'topic', label: 'Topic, if it has topics' }],
  webhook: [{ name: 'url', label: 'Address', placeholder: 'https://' }, { name: 'secret', label: 'Secret to sign with' }]
}

/** Adds a channel of a person or of the whole workspace. */
export function NewChannel({ me, people }: { me: string; people: { key: string; name: string }[] }) {
  const [opened, setOpened] = useState(false)
  const { busy, run, error } = useTry()
  const [kind, setKind] = useState<Means>('mail')
  const [name, setName] = useState('')
  const [values, setValues] = useState<Record<string, string>>({})
  const [of, setOf] = useState(me)
  const isShared = kind === 'chat' || kind === 'webhook'
  return (
    <>
      <Button variant="default" onClick={() => setOpened(true)}>New channel</Button>
      <Modal opened={opened} onClose={() => setOpened(false)} title="New channel">
        <div style={{ display: 'grid', gap: 10 }}>
          <Select label="By" data={Object.keys(FIELDS).map((value) => ({ value, label: MEANS_WORDS[value as Means] }))} value={kind} allowDeselect={false} onChange={(value) => { setKind(value as Means); setOf(value === 'chat' || value === 'webhook' ? '' : me) }} />
          <TextInput label="Name" value={name} onChange={(event) => setName(event.currentTarget.value)} />
          {FIELDS[kind]!.map((field) => <TextInput key={field.name} label={field.label} placeholder={field.placeholder} value={values[field.name] ?? ''} onChange={(event) => setValues({ ...values, [field.name]: event.currentTarget.value })} />)}
          <Select label="It reaches" data={[{ value: '', label: 'no person: a room or a program' }, ...people.map((each) => ({ value: each.key, label: each.key === me ? `${each.name}, me` : each.name }))]} value={of} allowDeselect={false} searchable onChange={(value) => setOf(value ?? '')} />
          {!isShared && of !== '' && <p className="quiet small" style={{ margin: 0 }}>A code goes there at once. Nothing else does before it is typed in here.</p>}
          {error}
          <Button onClick={() => run(() => makeChannel(kind, name, values, of === '' ? null : of), () => { setOpened(false); setName(''); setValues({}) })} loading={busy}>Add</Button>
        </div>
      </Modal>
    </>
  )
}
