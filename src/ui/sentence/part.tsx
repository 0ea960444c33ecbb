'use client'

import { Popover, TextInput } from '@mantine/core'
import { useState } from 'react'
import type { SentencePiece } from '@/core/sentence/sentence'
import { speakOrigin } from './origin'
import classes from './sentence.module.css'

export interface PartProps {
  piece: SentencePiece & { part: string }
  /** Takes what was typed; gives what was expected instead when it does not fit. */
  commit: (text: string) => string | undefined
  opened?: boolean
  /** Gives the part back to the service or the workspace, with the value it would then have. */
  giveBack?: { text: string; act: () => void }
}

/** One changeable part of a sentence. Tab reaches it, Enter opens it, typing filters the offers, Enter takes, Escape leaves. */
export function Part({ piece, commit, opened: openedFirst = false, giveBack }: PartProps) {
  const [opened, setOpened] = useState(openedFirst)
  const [text, setText] = useState(piece.text)
  const [expected, setExpected] = useState<string>()
  const [active, setActive] = useState(-1)
  const offers = (piece.offers ?? []).filter((offer) => text === piece.text || offer.toLowerCase().includes(text.toLowerCase()))
  const open = () => {
    setText(piece.text)
    setExpected(undefined)
    setActive(-1)
    setOpened(true)
  }
  const take = (value: string) => {
    const problem = value === piece.text ? undefined : commit(value)
    setExpected(problem)
    if (problem === undefined) setOpened(false)
  }
  const onKey = (event: React.KeyboardEvent) => {
    if (event.key === 'Escape') setOpened(false)
    else if (event.key === 'ArrowDown') setActive(Math.min(offers.length - 1, active + 1))
    else if (event.key === 'ArrowUp') setActive(Math.max(-1, active - 1))
    else if (event.key === 'Enter' && !event.ctrlKey && !event.metaKey) take(offers[active] ?? text)
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  const wide = piece.look === 'code'
  const origin = speakOrigin(piece)
  const look = `${classes.part}${wide ? ` ${classes.box} ${classes.code}` : ''}${origin ? ` ${classes.inherited}` : ''}`
  return (
    <Popover opened={opened} onChange={(next) => { if (!next) take(text) }} position="bottom-start" trapFocus returnFocus width={wide ? 440 : 240}>
      <Popover.Target>
        <button type="button" className={look} title={origin} aria-label={`${piece.label ?? piece.part}: ${piece.text || 'not set'}${origin ? `, ${origin}` : ''}`} data-part={piece.part} onClick={open}>{piece.text || '…'}</button>
      </Popover.Target>
      <Popover.Dropdown p={8}>
        <TextInput aria-label={piece.label ?? piece.part} value={text} error={expected && `Expected ${expected}.`} data-autofocus onFocus={(event) => event.currentTarget.select()}
          onChange={(event) => { setText(event.currentTarget.value); setExpected(undefined) }} onKeyDown={onKey} styles={{ input: wide ? { fontFamily: 'var(--mantine-font-family-monospace)' } : {} }} />
        {offers.length > 0 && (
          <div style={{ marginTop: 6 }}>
            {offers.map((offer, index) => <button key={offer} type="button" tabIndex={-1} className={classes.offer} data-active={index === active || undefined} onClick={() => take(offer)} style={{ width: '100%' }}>{offer}</button>)}
          </div>
        )}
        {origin && <div className="quiet small" style={{ marginTop: 6 }}>Now {origin}; what you type is for this check alone.</div>}
        {giveBack && <button type="button" className={classes.offer} style={{ width: '100%', marginTop: 6 }} onClick={() => { giveBack.act(); setOpened(false) }}>{giveBack.text}</button>}
      </Popover.Dropdown>
    </Popover>
  )
}
