'use client'

import { useRouter } from 'next/navigation'
import type { Trouble } from '@/core/incidents/incident'
import { readMoment, readTaking } from '@/core/routing/rehearse-question'
import { readStates, STATE_WORDS } from '@/core/sentence/route-sentence'
import { Part } from '../sentence/part'

export interface AskedQuestion {
  check: string
  state: Trouble
  places: string
  when: string
  taken: string
}

/** What is rehearsed, as a sentence; each part goes into the address. */
export function RehearseQuestion({ asked, checks, zone }: { asked: AskedQuestion; checks: { key: string; name: string }[]; zone: string }) {
  const router = useRouter()
  const put = (name: string, value: string) => {
    const query = new URLSearchParams(window.location.search)
    query.set(name, value)
    router.replace(`/routing?${query.toString()}`, { scroll: false })
    return undefined
  }
  const part = (name: string, label: string, text: string, offers: string[], read: (typed: string) => string | undefined, expected: string) => (
    <Part key={`${name}/${text}`} piece={{ text, part: name, label, offers }} commit={(typed) => {
      const value = read(typed.trim())
      return value === undefined ? expected : put(name, value)
    }} />
  )
  return (
    <p style={{ fontSize: 15, lineHeight: 1.9, margin: '4px 0 10px' }}>
      If {part('check', 'which check', asked.check, checks.slice(0, 400).map((each) => each.name), (text) => checks.find((each) => each.name.toLowerCase() === text.toLowerCase() || each.key === text)?.key, 'the name of a check')}
      {' '}goes {part('state', 'state', STATE_WORDS[asked.state], Object.values(STATE_WORDS), (text) => readStates(text)?.[0], 'down, slow, into warning or into fast burn')}
      {' '}at {part('places', 'number of locations', asked.places, [], (text) => /^(\d+)/.exec(text)?.[1], 'a number of locations')}
      {' '}on {part('at', 'when', asked.when, ['now', 'Saturday 03:00', 'Monday 10:00'], (text) => readMoment(text, zone, Date.now()), 'now, Saturday 03:00, or 2026-11-28 03:00')}
      {' '}and {part('taken', 'what happens to it', asked.taken, ['nobody takes it', 'it is taken after 5 min', 'it is taken after 15 min'], readTaking, 'nobody takes it, or it is taken after 5 min')}, then
    </p>
  )
}
