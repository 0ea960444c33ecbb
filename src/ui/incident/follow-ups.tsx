'use client'

import { Button, Checkbox, TextInput } from '@mantine/core'
import { useState } from 'react'
import { FOLLOW_UP_MOST, type FollowUp } from '@/core/incidents/follow-ups'
import { useAct } from './use-act'

/** What is to be done after an incident; each is ticked off by whoever has done it. */
export function FollowUps({ id, all }: { id: number; all: FollowUp[] }) {
  const { busy, run } = useAct()
  const [text, setText] = useState('')
  const add = () => { if (text.trim() !== '') run(id, 'follow-up', { text }, () => setText('')) }
  return (
    <div className="card pad">
      {all.map((each) => (
        <Checkbox key={each.text} checked={each.done} disabled={busy} onChange={() => run(id, each.done ? 'follow-up-open' : 'follow-up-done', { text: each.text })} style={{ padding: '5px 0' }} styles={{ label: { overflowWrap: 'anywhere' } }}
          label={<><span style={{ textDecoration: each.done ? 'line-through' : undefined }}>{each.text}</span>{each.by && <span className="quiet small"> {each.done ? `done, says ${each.by}` : each.by}</span>}</>} />
      ))}
      <div className="row" style={{ marginTop: all.length > 0 ? 8 : 0, flexWrap: 'nowrap' }}>
        <TextInput aria-label="Add a follow-up" placeholder="What has to be done so that it does not come back" maxLength={FOLLOW_UP_MOST} value={text} onChange={(event) => setText(event.currentTarget.value)} style={{ flex: 1 }} onKeyDown={(event) => { if (event.key === 'Enter') add() }} />
        {text.trim() !== '' && <Button variant="default" loading={busy} onClick={add}>Add it</Button>}
      </div>
    </div>
  )
}
