'use client'

import { Button, Textarea } from '@mantine/core'
import { useState } from 'react'
import type { CheckDocument } from '@/core/definitions/check'
import { readFile, writeFile } from '@/core/definitions/read-file'
import { settleCheck } from '@/core/layers/settle'
import { problemSentence } from '@/core/problems'
import { kinds } from '@/kinds/definitions'
import type { EditorChoices } from './choices'
import { surroundingsOf } from './use-draft'

/** The definition as a file, to be changed as text. */
export function FileForm({ draft, apply: take, leave, choices }: { draft: CheckDocument; apply: (document: CheckDocument) => void; leave: () => void; choices: EditorChoices }) {
  const [text, setText] = useState(() => writeFile(draft))
  const [error, setError] = useState<string>()
  const apply = () => {
    const read = readFile(text)
    if ('problems' in read) return setError(read.problems.map(problemSentence).join(' '))
    const document = read.value as CheckDocument
    const settled = settleCheck(document, surroundingsOf(document ?? {}, choices), kinds)
    return 'problems' in settled ? setError(read.withLines(settled.problems).map(problemSentence).join(' ')) : take(document)
  }
  return (
    <div className="card pad">
      <Textarea aria-label="The definition as a file" value={text} onChange={(event) => { setText(event.currentTarget.value); setError(undefined) }} autosize minRows={16} error={error} styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)', fontSize: 13 } }} />
      <div className="row" style={{ marginTop: 10 }}><Button onClick={apply}>Use it</Button><Button variant="default" onClick={leave}>Back to the sentence</Button></div>
    </div>
  )
}
