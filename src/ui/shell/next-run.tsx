'use client'

import { nextRunAnywhere, type Beat } from '@/core/schedule/next-run'
import { speakLength } from '@/core/definitions/duration'
import { useNow } from '../marks/moment'

/** The time to the next run at whichever location comes first. */
export function NextRun({ beats, places, first }: { beats: Beat[]; places: { id: number; place: string }[]; first: number }) {
  const now = useNow(first)
  const next = nextRunAnywhere(beats, now)
  if (!next) return null
  return <>Next run in {speakLength(next.at - now)}, at {places.find((place) => place.id === next.location)?.place}.</>
}
