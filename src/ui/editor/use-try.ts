'use client'

import { useRef, useState } from 'react'
import type { CheckDocument } from '@/core/definitions/check'
import { beginTry, readTry } from '../../../app/actions/checks'
import type { TryState } from './answer-panel'

/** Tries definitions one after another; a newer try makes an older one of no interest. */
export function useTry(): { attempt: TryState | undefined; tryNow: (document: CheckDocument, wait: number, of?: string) => Promise<void>; forget: () => void } {
  const [attempt, setAttempt] = useState<TryState>()
  const round = useRef(0)
  const tryNow = async (document: CheckDocument, wait: number, of?: string) => {
    const own = ++round.current
    const begun = await beginTry(document, of)
    if (own !== round.current) return
    if ('error' in begun) {
      setAttempt({ at: Date.now(), locations: [], answers: new Map(), running: false, error: begun.error })
      return
    }
    const state: TryState = { at: Date.now(), locations: begun.value.locations, answers: new Map(), running: true }
    setAttempt(state)
    const until = Date.now() + wait + 6000
    while (own === round.current) {
      const results = await readTry(begun.value.id)
      if (own !== round.current) return
      if ('value' in results) for (const { location, observation } of results.value) if (observation) state.answers.set(location, { ...observation, location })
      const over = state.answers.size === state.locations.length || Date.now() > until
      setAttempt({ ...state, answers: new Map(state.answers), running: !over, ...(over && state.answers.size === 0 ? { error: 'No probe answered. Is one running for these locations?' } : {}) })
      if (over) return
      await new Promise((resolve) => setTimeout(resolve, 150))
    }
  }
  return {
    attempt, tryNow,
    forget: () => {
      round.current += 1
      setAttempt(undefined)
    }
  }
}
