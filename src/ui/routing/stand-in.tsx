'use client'

import { createContext, useContext, useMemo, useState } from 'react'

interface Picked { day: string | undefined; pick: (day: string | undefined) => void }
const StandInContext = createContext<Picked>({ day: undefined, pick: () => undefined })

/** Lets the days of a rota's calendar open its form for standing in. */
export function StandInArea({ children }: { children: React.ReactNode }) {
  const [day, pick] = useState<string>()
  const value = useMemo(() => ({ day, pick }), [day])
  return <StandInContext.Provider value={value}>{children}</StandInContext.Provider>
}

/** The day somebody clicked, as `2026-11-24T00:00`. */
export const usePickedDay = () => useContext(StandInContext)

/** One day of a calendar: a click lets somebody stand in on it. */
export function DayButton({ day, label, style }: { day: string; label: string; style: React.CSSProperties }) {
  const { pick } = usePickedDay()
  return <button type="button" className="quiet small day" style={style} aria-label={`Stand in on ${label}`} onClick={() => pick(day)}>{label}</button>
}
