'use client'

import { Button, Menu, Textarea } from '@mantine/core'
import { useState } from 'react'
import { conditionSchema } from '@/core/conditions/condition-schema'
import { readCondition } from '@/core/conditions/read-condition'
import { STEP_SUBJECTS } from '@/core/conditions/subject'
import { withoutFields } from '@/core/definitions/without-fields'
import { problemsOf } from '@/core/definitions/problems-of'
import type { KindDefinition } from '@/core/definitions/kind'
import { conditionSentence } from '@/core/sentence/condition-sentence'
import { changeCondition } from '@/core/sentence/read-part'
import type { SentencePiece } from '@/core/sentence/sentence'
import { kinds } from '@/kinds/definitions'
import { Part } from '../sentence/part'
import classes from '../sentence/sentence.module.css'
import { OfferedConditions } from './offered-conditions'

type Written = Record<string, unknown>

// a request of a sequence answers as one HTTP request does, and nothing is measured beside it
const http = { ...(kinds.http as unknown as KindDefinition), offers: [] }
const schema = conditionSchema(STEP_SUBJECTS)
const isSayable = (written: Written) => problemsOf(schema as never, written).length === 0

/** The conditions of one request as sentences; those whose limits are variables only in their written form. */
export function StepConditions({ pass, change }: { pass: Written[]; change: (pass: Written[]) => void }) {
  const [asLines, setAsLines] = useState(false)
  const set = (index: number, next: Written | undefined) => change(pass.flatMap((each, at) => (at !== index ? [each] : next ? [next] : [])))
  return (
    <div>
      {asLines ? <Lines pass={pass} change={change} /> : pass.map((written, index) => (
        <div key={`${index}/${pass.length}`} className={classes.line} style={{ fontSize: 14 }}>
          <span className={classes.number}>{index + 1}</span>
          {isSayable(written) ? conditionSentence(readCondition(written, STEP_SUBJECTS), index).map((piece, at) => {
            if (!piece.part) return <span key={at} className={piece.look ? classes[piece.look] : undefined}>{piece.text}</span>
            const field = piece.part.replace(/^pass\[\d+\]\.?/, '')
            return <Part key={at} piece={piece as SentencePiece & { part: string }} commit={(text) => {
              const changed = changeCondition(written, STEP_SUBJECTS, field, text.trim())
              if ('expected' in changed) return changed.expected
              set(index, changed.condition)
              return undefined
            }} />
          }) : <code>{JSON.stringify(written)}</code>}
          <Menu position="bottom-start"><Menu.Target><button type="button" className={classes.more} aria-label={`More about condition ${index + 1}`}>⋯</button></Menu.Target>
            <Menu.Dropdown>
              <Menu.Item onClick={() => set(index, written.not ? withoutFields(written, ['not']) : { ...written, not: true })}>Turn it round</Menu.Item>
              <Menu.Item onClick={() => set(index, written.softly ? withoutFields(written, ['softly']) : { ...written, softly: true })}>{written.softly ? 'Let it fail the check' : 'Let it only warn'}</Menu.Item>
              <Menu.Item onClick={() => set(index, undefined)}>Take it away</Menu.Item>
            </Menu.Dropdown></Menu>
        </div>
      ))}
      {!asLines && pass.length === 0 && <div className="quiet small">It passes with a status below 400.</div>}
      <div className="row" style={{ gap: 12 }}>
        <OfferedConditions kind={http} label="+ condition" add={(written) => change([...pass, written])} />
        <Button variant="subtle" px={0} onClick={() => setAsLines(!asLines)}>{asLines ? 'As sentences' : 'As written'}</Button>
      </div>
    </div>
  )
}

/** Conditions in their written form, one a line. */
function Lines({ pass, change }: { pass: Written[]; change: (pass: Written[]) => void }) {
  const [problem, setProblem] = useState<string>()
  const take = (text: string) => {
    try {
      change(text.split('\n').map((line) => line.trim()).filter((line) => line !== '').map((line) => JSON.parse(line) as Written))
      setProblem(undefined)
    } catch {
      setProblem('Expected one condition a line, such as { "status": "200-299" }.')
    }
  }
  return <Textarea size="xs" label="Conditions, one a line" styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)' } }} error={problem} autosize minRows={1} maxRows={6} defaultValue={pass.map((each) => JSON.stringify(each)).join('\n')} onBlur={(event) => take(event.currentTarget.value)} />
}
