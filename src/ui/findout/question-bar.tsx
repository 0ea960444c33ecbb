'use client'

import { Button, Menu, SegmentedControl } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useRouter } from 'next/navigation'
import { useState, useTransition } from 'react'
import type { Dimension } from '@/core/findout/dimensions'
import { withPart, type Question } from '@/core/findout/question'
import { writeQuestion } from '@/core/findout/question-address'
import { changeQuestion, questionSentence } from '@/core/findout/question-sentence'
import { Part } from '../sentence/part'
import { useZone } from '../marks/zone'

export interface PlainNames { about: [string, string][]; values: [string, [string, string][]][] }

/** The question as a sentence; each part is changed in place, and the address holds the result. */
export function QuestionBar({ question, names, now }: { question: Question; names: PlainNames; now: number }) {
  const router = useRouter()
  const zone = useZone()
  const [busy, start] = useTransition()
  const [namesOther, setNamesOther] = useState(false)
  const known = { about: new Map(names.about), values: Object.fromEntries(names.values.map(([dimension, values]) => [dimension, new Map(values)])) as Partial<Record<Dimension, Map<string, string>>> }
  const ask = (next: Question) => {
    setNamesOther(false)
    start(() => router.push(`/find-out?${writeQuestion(next, zone)}`, { scroll: false }))
  }
  const commit = (part: string) => (text: string) => {
    const changed = changeQuestion(question, known, part, text, zone)
    if ('expected' in changed) return changed.expected
    ask(changed.question)
    return undefined
  }
  const added = `where[${question.where.length}]`
  return (
    <div className="apart" style={{ alignItems: 'flex-start', marginBottom: 12 }}>
      <h1 style={{ fontSize: 17, fontWeight: 400, lineHeight: 1.9, flex: '1 1 420px', opacity: busy ? 0.6 : 1 }} aria-busy={busy}>
        {questionSentence(question, known, zone, now).map((piece, index) => (piece.part === undefined ? <span key={index}>{piece.text}</span> : <Part key={`${piece.part}/${piece.text}`} piece={{ ...piece, part: piece.part }} commit={commit(piece.part)} />))}{' '}
        {namesOther && <>, beside <Part key="beside" opened piece={{ text: '…', part: 'beside', label: 'what it is set beside', offers: [...known.about.values()].slice(0, 60) }} commit={(text) => (text === '…' ? void setNamesOther(false) : commit('beside')(text))} /> </>}
        <Part key={added} piece={{ text: '+ where', part: added, label: 'another demand', offers: ['country is', 'network is', 'server is', 'location is', 'HTTP version is'] }} commit={(text) => (text === '+ where' ? undefined : commit(added)(text))} />
      </h1>
      <span className="row">
        <Menu position="bottom-end">
          <Menu.Target><Button variant="default">Set beside…</Button></Menu.Target>
          <Menu.Dropdown>
            {([['before', 'The stretch before'], ['week', 'The same hours last week']] as const).map(([beside, text]) => <Menu.Item key={beside} onClick={() => ask(withPart(question, 'beside', beside))}>{text}</Menu.Item>)}
            <Menu.Item onClick={() => setNamesOther(true)}>Other checks, or other demands …</Menu.Item>
            {question.beside && <Menu.Item onClick={() => ask(withPart(question, 'beside'))}>Nothing</Menu.Item>}
          </Menu.Dropdown>
        </Menu>
        <SegmentedControl aria-label="How it is drawn" value={question.view} onChange={(view) => ask({ ...question, view: view as Question['view'] })} data={[{ value: 'line', label: 'Dots' }, { value: 'heat', label: 'Heat' }, { value: 'map', label: 'Map' }]} />
        <Button variant="default" onClick={() => {
          void navigator.clipboard?.writeText(window.location.href)
          notifications.show({ message: 'The address of this view is copied. Whoever opens it sees the same question.' })
        }}>Share</Button>
      </span>
    </div>
  )
}
