'use client'

import { speakExactly, speakMoment, speakClock } from '@/core/time/zoned'
import { speakLength } from '@/core/definitions/duration'
import { useEffect, useState } from 'react'
import { useZone } from './zone'

/** A moment as people say it, with date, seconds and zone on hover. */
export function Moment({ at, now, clock }: { at: number; now: number; clock?: boolean }) {
  const zone = useZone()
  return <time dateTime={new Date(at).toISOString()} title={speakExactly(at, zone)}>{clock ? speakClock(at, zone) : speakMoment(at, zone, now)}</time>
}

/** The time of this browser, every second; the server's moment until it is known. */
export function useNow(first: number): number {
  const [now, setNow] = useState(first)
  useEffect(() => {
    setNow(Date.now())
    const timer = setInterval(() => setNow(Date.now()), 1000)
    return () => clearInterval(timer)
  }, [])
  return now
}

/** How long something has lasted, counting up. */
export function Lasting({ since, first, suffix = '' }: { since: number; first: number; suffix?: string }) {
  return <>{speakLength(useNow(first) - since)}{suffix}</>
}
