'use client'

import { Popover, TextInput } from '@mantine/core'
import { useState } from 'react'
import { FAMILIES, type KindDefinition } from '@/core/definitions/kind'
import { kinds } from '@/kinds/definitions'
import sentence from '../sentence/sentence.module.css'
import classes from './kind-choice.module.css'

const all = Object.values(kinds) as unknown as KindDefinition[]
const HEADINGS: Record<KindDefinition['family'], string> = {
  web: 'Web', network: 'Network', services: 'Services', inside: 'From inside', derived: 'From other checks'
}

/** What the check asks, chosen among all kinds; each says what it proves. */
export function KindChoice({ kind, choose }: { kind: KindDefinition; choose: (kind: KindDefinition) => void }) {
  const [opened, setOpened] = useState(false)
  const [text, setText] = useState('')
  const words = text.toLowerCase().split(/\s+/).filter((word) => word !== '')
  const found = all.filter((each) => words.every((word) => `${each.kind} ${each.name} ${each.proves}`.toLowerCase().includes(word)))
  const take = (next: KindDefinition | undefined) => {
    if (!next) return
    setOpened(false)
    setText('')
    if (next.kind !== kind.kind) choose(next)
  }
  return (
    <div className={sentence.line}>
      <span className="quiet">It asks for </span>
      <Popover opened={opened} onChange={setOpened} position="bottom-start" width={560} trapFocus returnFocus>
        <Popover.Target><button type="button" className={sentence.part} aria-label={`kind of check: ${kind.name}`} data-part="kind" onClick={() => setOpened(!opened)}>{kind.name}</button></Popover.Target>
        <Popover.Dropdown p={8}>
          <TextInput size="xs" aria-label="Look for a kind" placeholder="What should be asked?" data-autofocus value={text} onChange={(event) => setText(event.currentTarget.value)}
            onKeyDown={(event) => { if (event.key === 'Enter') { event.preventDefault(); take(found[0]) } }} />
          <div className={classes.list} role="listbox" aria-label="Kinds">
            {FAMILIES.filter((family) => found.some((each) => each.family === family)).map((family) => (
              <div key={family} role="group" aria-label={HEADINGS[family]}>
                <div className={classes.heading}>{HEADINGS[family]}</div>
                {found.filter((each) => each.family === family).map((each) => (
                  <button key={each.kind} type="button" role="option" aria-selected={each.kind === kind.kind} className={classes.kind} onClick={() => take(each)}>
                    <b>{each.name}</b><span className="quiet small">{each.proves}</span>
                  </button>
                ))}
              </div>
            ))}
            {found.length === 0 && <div className="quiet small" style={{ padding: 8 }}>No kind has these words.</div>}
          </div>
        </Popover.Dropdown>
      </Popover>
    </div>
  )
}
