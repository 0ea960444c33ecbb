'use client'

import { createContext, useContext, useMemo, useState } from 'react'

interface Focus { group: string | undefined; focus: (group: string | undefined) => void }
const FocusContext = createContext<Focus>({ group: undefined, focus: () => undefined })

/** The group under the pointer, highlighted everywhere at once. */
export function FocusArea({ children }: { children: React.ReactNode }) {
  const [group, focus] = useState<string>()
  const value = useMemo(() => ({ group, focus }), [group])
  return <FocusContext.Provider value={value}>{children}</FocusContext.Provider>
}

export const useFocus = () => useContext(FocusContext)

/** Colours of compared series, in their order; what is beyond them is grey. */
export const SERIES = ['--series-1', '--series-2', '--series-3', '--series-4', '--series-5', '--series-6'] as const
export const seriesColour = (place: number): string => `var(${SERIES[place] ?? '--muted'})`
