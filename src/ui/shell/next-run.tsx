'use client'

import { nextRunAnywhere } from '@/core/schedule/next-run'
import { speakLength } from '@/core/definitions/duration'
import { useNow } from '../marks/moment'

/** The time to the next run at whichever location comes first. */
export function NextRun({ check, places, every, first }: { check: number; places: { id: number; place: string }[]; every: number; first: number }) {
  const now = useNow(first)
  const next = nextRunAnywhere(check, places.map((place) => place.id), every, now)
  if (!next) return null
  return <>Next run in {speakLength(next.at - now)}, at {places.find((place) => place.id === next.location)?.place}.</>
}
