'use client'

import { outside } from '@/core/places/places'
import { Button, Menu } from '@mantine/core'
import type { CheckDocument } from '@/core/definitions/check'
import { withoutFields } from '@/core/definitions/without-fields'
import { INHERITED } from '@/core/layers/inherit'
import type { Sentence, SentencePiece } from '@/core/sentence/sentence'
import { blankCheck } from '../editor/blank'
import type { EditorChoices } from '../editor/choices'
import { Conditions } from '../editor/conditions'
import { LocationChoice } from '../editor/location-choice'
import type { Draft } from '../editor/use-draft'
import { speakOrigin } from '../sentence/origin'
import { Part } from '../sentence/part'
import classes from '../sentence/sentence.module.css'

/** What a service or the workspace shares, as the document of a check that goes nowhere. */
export function asDraft(shared: Record<string, unknown>, name: string): CheckDocument {
  const fields = Object.fromEntries(Object.entries(shared).filter(([field]) => [...INHERITED, 'pass', 'variables', 'secrets'].includes(field)))
  return { ...fields, ...blankCheck(), name }
}

/** The shared fields of such a draft. */
export function sharedOf(document: CheckDocument): Record<string, unknown> {
  return withoutFields(document, ['check', 'name', 'http'])
}

/** The rules that checks take from a service or the workspace, as sentences edited in place. */
export function SharedRules({ draft, choices, withConditions }: { draft: Draft; choices: EditorChoices; withConditions: boolean }) {
  const { settled, sentence, set } = draft
  const { check } = settled
  const how = sentence.what.slice(sentence.what.findIndex((piece) => piece.part === 'every'))
  const back = (part: string) => {
    const text = draft.inheritedText(part)
    return text === undefined ? {} : { giveBack: { text: `Back to the workspace’s: ${text}`, act: () => draft.giveBack(part) } }
  }
  const draw = (pieces: Sentence) => pieces.map((piece, index) => {
    if (!piece.part) return <span key={index} className={piece.look ? classes[piece.look] : undefined}>{piece.text}</span>
    const origin = speakOrigin(piece)
    if (piece.part === 'from') return <LocationChoice key={index} text={piece.text} locations={outside(choices.locations)} chosen={check.from} choose={(from) => set({ from })} {...(origin ? { inherited: origin } : {})} {...back('from')} />
    return <Part key={piece.part} piece={piece as SentencePiece & { part: string }} commit={(text) => draft.commit(piece.part!, text)} {...back(piece.part)} />
  })
  return (
    <div className="card pad">
      <div className={classes.line}>{withConditions ? 'Its checks run' : 'A check runs'} every {draw(how)}</div>
      <Menu position="bottom-start"><Menu.Target><Button variant="subtle" px={0}>+ hours, release window</Button></Menu.Target>
        <Menu.Dropdown>
          <Menu.Item disabled={check.hours !== undefined} onClick={() => set({ hours: { at: ['mon-fri 06:00-22:00'] } })}>Run only at certain hours</Menu.Item>
          <Menu.Item disabled={check.window !== undefined} onClick={() => set({ window: { every: '10s' } })}>Run more often while a release window is open</Menu.Item>
          <Menu.Item disabled={check.window !== undefined} onClick={() => set({ window: { only: true } })}>Run only while a release window is open</Menu.Item>
        </Menu.Dropdown></Menu>
      {withConditions && <><hr className={classes.rule} /><Conditions draft={draft} draw={draw} /></>}
      <hr className={classes.rule} />
      <div className={classes.line}>{draw(sentence.down)}</div>
      <div className={classes.line}>
        {check.slow ? <>{draw(sentence.slow)} <button type="button" className={classes.more} aria-label="Take the rule for slow away" onClick={() => set({ slow: undefined })}>×</button></>
          : <Button variant="subtle" px={0} onClick={() => set({ slow: { above: '900ms' } })}>+ call it slow above a limit</Button>}
      </div>
    </div>
  )
}
