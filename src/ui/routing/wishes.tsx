'use client'

import { Button, Checkbox, Select, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useState, useTransition } from 'react'
import { NEWS_KINDS, type NewsKind, type Preferences } from '@/core/people/preferences'
import { withoutFields } from '@/core/definitions/without-fields'
import { MEANS, MEANS_WORDS, type Means } from '@/core/routing/means'
import { savePreferences } from '../../../app/actions/routing'

const KIND_WORDS: Record<NewsKind, string> = { urgent: 'Urgent', down: 'Down', slow: 'Slow', warning: 'Warning', burn: 'Error budget', over: 'It is over' }
const PERSONAL: readonly Means[] = MEANS.filter((each) => each !== 'chat' && each !== 'webhook')
const hours = (text: string) => { const found = text.split(';').map((each) => each.trim()).filter((each) => each !== ''); return found.length === 0 ? undefined : found }

/** How a person wants to be told: by what means each kind of news comes, when not, and on whose clock. */
export function WishesForm({ person, wishes, zone, zones, done }: { person: string; wishes: Preferences; zone: string; zones: string[]; done?: () => void }) {
  const [quiet, setQuiet] = useState((wishes.quiet ?? []).join('; '))
  const [working, setWorking] = useState((wishes.working ?? []).join('; '))
  const [own, setOwn] = useState(wishes.zone ?? zone)
  const [by, setBy] = useState<Partial<Record<NewsKind, Means[]>>>(wishes.by ?? {})
  const [byLink, setByLink] = useState(wishes.takeByLink !== false)
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const listOf = (kind: NewsKind) => by[kind] ?? [...PERSONAL]
  const turn = (kind: NewsKind, means: Means, on: boolean) => {
    const next = on ? [...listOf(kind), means] : listOf(kind).filter((each) => each !== means)
    const rest = withoutFields(by, [kind]) as typeof by
    setBy(PERSONAL.every((each) => next.includes(each)) ? rest : { ...rest, [kind]: next })
  }
  const save = () => start(async () => {
    const [quietHours, workingHours] = [hours(quiet), hours(working)]
    const result = await savePreferences(person, { ...(own === zone ? {} : { zone: own }), ...(quietHours ? { quiet: quietHours } : {}), ...(workingHours ? { working: workingHours } : {}), ...(Object.keys(by).length > 0 ? { by } : {}), ...(byLink ? {} : { takeByLink: false }) })
    setError('error' in result ? result.error : undefined)
    if ('error' in result) return
    notifications.show({ message: 'Saved.' })
    done?.()
  })
  return (
    <div style={{ display: 'grid', gap: 12 }}>
      <table className="table"><thead><tr><th>News</th>{PERSONAL.map((each) => <th key={each} style={{ textAlign: 'center' }}>{MEANS_WORDS[each]}</th>)}</tr></thead>
        <tbody>{NEWS_KINDS.map((kind) => <tr key={kind}><td>{KIND_WORDS[kind]}</td>{PERSONAL.map((means) => <td key={means}><Checkbox aria-label={`${KIND_WORDS[kind]} by ${MEANS_WORDS[means]}`} checked={listOf(kind).includes(means)} onChange={(event) => turn(kind, means, event.currentTarget.checked)} style={{ display: 'flex', justifyContent: 'center' }} /></td>)}</tr>)}</tbody></table>
      <p className="quiet small" style={{ margin: 0 }}>A route that names its means decides for itself; this holds where it leaves them open.</p>
      <TextInput label="Quiet hours" description="What is not urgent waits, and comes in one message afterwards" placeholder="daily 22:00-07:00" value={quiet} onChange={(event) => setQuiet(event.currentTarget.value)} />
      <TextInput label="Working hours" placeholder="mon-fri 08:00-16:00" value={working} onChange={(event) => setWorking(event.currentTarget.value)} />
      <Select label="Time zone" searchable data={zones} allowDeselect={false} value={own} onChange={(value) => setOwn(value ?? zone)} />
      <Checkbox label="A link in a message takes an incident without signing in" checked={byLink} onChange={(event) => setByLink(event.currentTarget.checked)} />
      {error && <div className="notice trouble" role="alert">{error}</div>}
      <div><Button loading={busy} onClick={save}>Save</Button></div>
    </div>
  )
}
