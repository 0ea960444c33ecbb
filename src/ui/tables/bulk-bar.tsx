'use client'

import { Button, Menu, Modal, Select, TagsInput, TextInput } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useEffect, useState, useTransition } from 'react'
import { BULK_PARTS, type BulkEdit } from '@/core/bulk/bulk-edit'
import { speakValue } from '@/core/definitions/differences'
import type { LocationChoice as Choice } from '@/core/places/places'
import { speakChoice } from '@/core/places/places'
import { problemSentence } from '@/core/problems'
import type { KnownLocation } from '@/core/sentence/check-sentence'
import { halt, resume } from '../../../app/actions/checks'
import { applyToMany, previewEdit, removeMany, runMany, type BulkPreview } from '../../../app/actions/table'
import { LocationChoice } from '../editor/location-choice'
import { HaltForm } from '../shell/halt-form'
import { showUndo } from '../shell/undo-notice'
import type { CheckRow } from './row'
import classes from './table.module.css'

interface Props {
  rows: CheckRow[]
  services: { key: string; name: string }[]
  locations: KnownLocation[]
  leave: () => void
}

/** What can be done with all chosen checks. */
export function BulkBar({ rows, services, locations, leave }: Props) {
  const [editing, setEditing] = useState(false)
  const [, start] = useTransition()
  const keys = rows.map((row) => row.key)
  const count = `${keys.length} ${keys.length === 1 ? 'check' : 'checks'}`
  const say = (result: { error: string } | { value: unknown }, done: string) => notifications.show('error' in result ? { message: result.error, color: 'red' } : { message: done })
  const remove = () => start(async () => {
    const result = await removeMany(keys)
    if ('error' in result) return void say(result, '')
    leave()
    return showUndo(`${count} are no longer watched.`, result.value)
  })
  return (
    <div className={`${classes.bar} row`} role="toolbar" aria-label="Chosen checks">
      <b>{count} chosen</b>
      <Button onClick={() => setEditing(true)}>Edit</Button>
      <Button variant="default" onClick={() => start(async () => void say(await runMany(keys), `${count} run now.`))}>Run now</Button>
      <HaltForm name="Mute" explains={`${count} run and are recorded; nobody is told.`} act={async (wish) => void say(await halt('mute', keys, wish), `${count} are muted.`)} />
      <HaltForm name="Pause" explains={`${count} are not run.`} act={async (wish) => void say(await halt('pause', keys, wish), `${count} are paused.`)} />
      <Menu position="top-end"><Menu.Target><Button variant="default">More</Button></Menu.Target>
        <Menu.Dropdown>
          <Menu.Item disabled={!rows.some((row) => row.muted)} onClick={() => start(async () => void say(await resume('mute', keys), 'People are told again.'))}>Unmute</Menu.Item>
          <Menu.Item disabled={!rows.some((row) => row.paused)} onClick={() => start(async () => void say(await resume('pause', keys), 'They run again.'))}>Let them run again</Menu.Item>
          <Menu.Item component="a" href={`/api/export?keys=${keys.join(',')}&as=yaml`} download>Export as definitions</Menu.Item>
          <Menu.Item component="a" href={`/api/export?keys=${keys.join(',')}&as=csv`} download>Export as CSV</Menu.Item>
          <Menu.Item color="red" onClick={remove}>Stop watching them</Menu.Item>
        </Menu.Dropdown></Menu>
      <Button variant="subtle" onClick={leave}>Choose none</Button>
      <Modal opened={editing} onClose={() => setEditing(false)} title={`Change ${count}`} size={780}>
        {editing && <BulkForm keys={keys} tags={[...new Set(rows.flatMap((row) => row.tags))]} services={services} locations={locations} done={(message, change) => { setEditing(false); showUndo(message, change) }} />}
      </Modal>
    </div>
  )
}

const ACTS = [
  { value: 'add-tags', label: 'add tags' }, { value: 'remove-tags', label: 'take tags away' }, { value: 'service', label: 'move to a service' }, { value: 'from', label: 'set from where' },
  ...BULK_PARTS.map(({ part, name }) => ({ value: part, label: `set ${name}` })), ...BULK_PARTS.filter(({ part }) => part !== 'needs').map(({ part, name }) => ({ value: `back:${part}`, label: `give ${name} back to the service` }))
]

function BulkForm({ keys, tags: known, services, locations, done }: { keys: string[]; tags: string[]; services: Props['services']; locations: KnownLocation[]; done: (message: string, change: number | undefined) => void }) {
  const [act, setAct] = useState('add-tags')
  const [tags, setTags] = useState<string[]>([])
  const [text, setText] = useState('')
  const [service, setService] = useState<string | null>(null)
  const [from, setFrom] = useState<Choice>('all')
  const [preview, setPreview] = useState<BulkPreview | { error: string }>()
  const [busy, start] = useTransition()
  const edit = editOf(act, { tags, text, service, from })
  const [settled] = useDebouncedValue(JSON.stringify(edit ?? null), 200)
  useEffect(() => {
    const wanted = JSON.parse(settled) as BulkEdit | null
    let over = false
    if (!wanted) {
      setPreview(undefined)
      return
    }
    void previewEdit(keys, wanted).then((result) => { if (!over) setPreview('error' in result ? { error: result.error } : result.value) })
    return () => { over = true }
    // the chosen checks do not change while the form is open
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [settled])
  const apply = () => start(async () => {
    const result = await applyToMany(keys, edit!)
    if ('error' in result) setPreview({ error: result.error })
    else done(`${preview && 'changes' in preview ? preview.changes.length : keys.length} checks are changed.`, result.value)
  })
  const example = BULK_PARTS.find(({ part }) => part === act)?.example
  const ready = preview !== undefined && 'changes' in preview && preview.problems.length === 0 && preview.changes.length > 0
  return (
    <div style={{ display: 'grid', gap: 12 }}>
      <div className="row" style={{ alignItems: 'flex-end' }}>
        <Select label="What to do" w={260} searchable allowDeselect={false} data={ACTS} value={act} onChange={(value) => { setAct(value ?? 'add-tags'); setText('') }} />
        {act.endsWith('-tags') && <TagsInput label="Tags" w={300} data={known} value={tags} onChange={setTags} data-autofocus />}
        {act === 'service' && <Select label="Service" w={260} searchable data={[{ value: '', label: 'no service' }, ...services.map(({ key, name }) => ({ value: key, label: name }))]} value={service} onChange={setService} />}
        {act === 'from' && <div>to <LocationChoice text={speakChoice(from, locations)} locations={locations} chosen={from} choose={setFrom} /></div>}
        {example !== undefined && <TextInput label="To" w={300} placeholder={example} value={text} onChange={(event) => setText(event.currentTarget.value)} />}
      </div>
      {preview && 'error' in preview && <div className="notice trouble" role="alert">{preview.error}</div>}
      {preview && 'changes' in preview && (
        <>
          {preview.problems.length > 0 && <div className="notice trouble" role="alert">{preview.problems.slice(0, 5).map(problemSentence).join(' ')}{preview.problems.length > 5 && ` And ${preview.problems.length - 5} more.`}</div>}
          <div role="status"><b>{preview.changes.length === 0 ? 'Nothing would change.' : `${preview.changes.length} ${preview.changes.length === 1 ? 'check changes' : 'checks change'}.`}</b> {preview.unchanged > 0 && <span className="quiet">{preview.unchanged} are so already.</span>}</div>
          <div style={{ maxHeight: 300, overflow: 'auto' }}><table className="table small"><tbody>
            {preview.changes.slice(0, 200).map((each) => <tr key={each.key}><td className="strong">{each.name}</td><td>{each.differences.map((difference) => <div key={difference.path}><span className="code">{difference.path}</span> <span className="quiet">{speakValue(difference.before)} →</span> {speakValue(difference.after)}</div>)}</td></tr>)}
          </tbody></table>{preview.changes.length > 200 && <p className="quiet small">and {preview.changes.length - 200} more in the same way</p>}</div>
        </>
      )}
      <div><Button onClick={apply} loading={busy} disabled={!ready}>Change them</Button></div>
    </div>
  )
}

function editOf(act: string, { tags, text, service, from }: { tags: string[]; text: string; service: string | null; from: Choice }): BulkEdit | undefined {
  if (act === 'add-tags' || act === 'remove-tags') return tags.length > 0 ? { act, tags } : undefined
  if (act === 'service') return service === null ? undefined : { act, key: service === '' ? null : service }
  if (act === 'from') return { act, from }
  if (act.startsWith('back:')) return { act: 'give-back', part: act.slice(5) }
  return text.trim() === '' ? undefined : { act: 'set', part: act, text }
}
