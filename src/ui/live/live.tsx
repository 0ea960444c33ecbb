'use client'

import { useRouter } from 'next/navigation'
import { createContext, useContext, useEffect, useRef, useState } from 'react'

export interface LiveEvent { topic: string; subject: number }
type Listener = (events: LiveEvent[]) => void

const Live = createContext<(listener: Listener) => () => void>(() => () => undefined)

/** Keeps one stream of events open for the whole application and says so when it is lost. */
export function LiveProvider({ children }: { children: React.ReactNode }) {
  const listeners = useRef(new Set<Listener>())
  const [lost, setLost] = useState(false)
  const router = useRouter()
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined
    let wasLost = false
    const source = new EventSource('/api/live')
    source.onopen = () => {
      clearTimeout(timer)
      timer = undefined
      setLost(false)
      if (wasLost) router.refresh()
      wasLost = false
    }
    source.onmessage = (message) => {
      const events = JSON.parse(message.data as string) as LiveEvent[]
      for (const listener of listeners.current) listener(events)
    }
    source.onerror = () => {
      wasLost = true
      timer ??= setTimeout(() => setLost(true), 1500)
    }
    return () => {
      clearTimeout(timer)
      source.close()
    }
  }, [router])
  const [join] = useState(() => (listener: Listener) => {
    listeners.current.add(listener)
    return () => void listeners.current.delete(listener)
  })
  return (
    <Live.Provider value={join}>
      {lost && <div role="status" style={{ background: 'var(--slow-soft)', color: 'var(--slow-text)', padding: '6px 24px', borderBottom: '1px solid var(--line)' }}>The connection to Hemeron is lost. What you see may be old; it is tried again.</div>}
      {children}
    </Live.Provider>
  )
}

/** Reads the page's data again, at most every `pause` milliseconds, when an event that matters to it comes. */
export function RefreshOn({ topics, subject, pause = 1000 }: { topics: string[]; subject?: number; pause?: number }) {
  const join = useContext(Live)
  const router = useRouter()
  const wanted = topics.join()
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined
    let last = 0
    let missed = false
    const onVisible = () => {
      if (document.visibilityState === 'visible' && missed) router.refresh()
      missed = false
    }
    document.addEventListener('visibilitychange', onVisible)
    const leave = join((events) => {
      if (!events.some((event) => wanted.split(',').includes(event.topic) && (subject === undefined || event.subject === subject))) return
      timer ??= setTimeout(() => {
        timer = undefined
        last = Date.now()
        if (document.visibilityState === 'visible') router.refresh()
        else missed = true
      }, Math.max(50, last + pause - Date.now()))
    })
    return () => {
      clearTimeout(timer)
      document.removeEventListener('visibilitychange', onVisible)
      leave()
    }
  }, [join, router, wanted, subject, pause])
  return null
}
