'use client'

import { Button, Menu } from '@mantine/core'
import { subjectOf } from '@/core/layers/inherit'
import type { Sentence } from '@/core/sentence/sentence'
import classes from '../sentence/sentence.module.css'
import { OfferedConditions } from './offered-conditions'
import type { Draft } from './use-draft'

type Written = Record<string, unknown>

/** The conditions of a check, one a line: its own, and those common to its service. */
export function Conditions({ draft, draw, hint }: { draft: Draft; draw: (pieces: Sentence) => React.ReactNode; hint?: string }) {
  const { document, settled, sentence, kind, set } = draft
  const own = (document.pass ?? []) as Written[]
  const without = (document.without ?? []) as string[]
  const common = ((settled.document.pass as Written[])).map((written, index) => ({ written, from: settled.conditions[index]! }))
  const setOwn = (index: number, change: (written: Written) => Written) => set({ pass: own.map((each, at) => (at === index ? change(each) : each)) })
  const add = (written: Written) => set({ pass: [...own, written] })
  return (
    <>
      <div className={classes.line}>{document.turned ? 'It passes when the following does not hold' : 'It passes when'}</div>
      {sentence.conditions.map((condition, index) => {
        const { from, written } = common[index] ?? {}
        if (!from || !written) return null
        const place = from.own
        return (
          <div key={index} className={classes.line}>
            <span className={classes.number}>{index + 1}</span>{draw(condition)}
            {place === undefined && <span className="quiet small"> · from the service</span>}
            <Menu position="bottom-start"><Menu.Target><button type="button" className={classes.more} aria-label={`More about condition ${index + 1}`}>⋯</button></Menu.Target>
              <Menu.Dropdown>
                {place === undefined ? (
                  <>
                    <Menu.Item onClick={() => set({ pass: [...own, written] })}>Say it otherwise for this check</Menu.Item>
                    <Menu.Item onClick={() => set({ without: [...without, from.subject] })}>Leave it out of this check</Menu.Item>
                  </>
                ) : (
                  <>
                    <Menu.Item onClick={() => setOwn(place, ({ not, ...each }) => (not ? each : { ...each, not: true }))}>Turn it round</Menu.Item>
                    <Menu.Item onClick={() => setOwn(place, ({ softly, ...each }) => (softly ? each : { ...each, softly: true }))}>{own[place]?.softly ? 'Let it fail the check' : 'Let it only warn'}</Menu.Item>
                    <Menu.Item onClick={() => set({ pass: own.filter((_, at) => at !== place) })}>Take it away</Menu.Item>
                  </>
                )}
              </Menu.Dropdown></Menu>
          </div>
        )
      })}
      {sentence.conditions.length === 0 && <div className="quiet">{draft.settled.check.isInside ? 'nothing else is asked of it.' : 'there is any answer at all.'}</div>}
      {without.map((subject) => (
        <div key={subject} className={`${classes.line} quiet`}>Without the service’s condition on <span className={classes.code}>{subject}</span> <Button variant="subtle" px={4} onClick={() => set({ without: without.length > 1 ? without.filter((each) => each !== subject) : undefined, pass: own.filter((each) => subjectOf(each) !== subject) })}>Give it back</Button></div>
      ))}
      <OfferedConditions kind={kind} label="+ another condition" add={add}>
        <Menu.Divider /><Menu.Item onClick={() => set({ turned: document.turned ? undefined : true })}>{document.turned ? 'Turn the whole check back' : 'Turn the whole check round'}</Menu.Item>
      </OfferedConditions>
      {hint && <span className="quiet small"> {hint}</span>}
    </>
  )
}
