'use client'

import { useEffect, useState } from 'react'
import type { BoardView } from '@/core/places/board'
import { STATE_NAMES } from '@/core/states/check-state'
import { speakClock, speakTime } from '@/core/time/zoned'
import { StateMark } from '../marks/state-mark'
import { ZoneProvider } from '../marks/zone'
import { Ribbon } from '../ribbon/ribbon'

const EVERY = 10_000
const FILLS = { fail: 'var(--down)', slow: 'var(--slow)', warn: 'var(--slow-soft)', pass: 'var(--chip)', none: 'transparent' } as const

/** Checks and locations readable across a room. It asks again and again, says when it cannot, and goes on by itself. */
export function BoardWall({ name, first }: { name: string; first: BoardView }) {
  const [view, setView] = useState(first)
  const [lostAt, setLostAt] = useState<number>()
  useEffect(() => {
    let stopped = false
    const ask = async () => {
      try {
        const answer = await fetch(`/api/board/${name}`, { cache: 'no-store', signal: AbortSignal.timeout(EVERY) })
        if (answer.status === 404) return window.location.reload()
        if (!answer.ok) throw new Error(String(answer.status))
        const next = (await answer.json()) as BoardView
        if (stopped) return
        setView(next)
        setLostAt(undefined)
      } catch {
        if (!stopped) setLostAt((before) => before ?? Date.now())
      }
    }
    const timer = setInterval(() => void ask(), EVERY)
    return () => { stopped = true; clearInterval(timer) }
  }, [name])
  const isBad = view.lines.some((line) => line.state === 'down')
  const size = view.lines.length > 24 ? 'clamp(13px, 1.15vw, 22px)' : view.lines.length > 10 ? 'clamp(15px, 1.6vw, 32px)' : 'clamp(18px, 2.1vw, 42px)'
  return (
    <ZoneProvider value={view.zone}>
      <main style={{ padding: '2vw', fontSize: size, minHeight: '100vh' }}>
        <div className="apart" style={{ marginBottom: '1vw' }}><h1 style={{ fontSize: '1.6em' }} className={isBad ? 'down-text' : undefined}>{view.title}</h1><span className="quiet" style={{ fontSize: '0.8em' }}>{view.name} · {lostAt === undefined ? speakTime(view.at, view.zone) : <b className="slow-text" role="alert">Connection lost at {speakClock(lostAt, view.zone)}; what stands here is older. It is tried again.</b>}</span></div>
        <div style={{ display: 'grid', gap: '0.35em' }}>
          {view.lines.map((line) => (
            <div key={line.key} className="card" style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 2.2fr) minmax(0, 1.6fr) minmax(0, 1.2fr)', alignItems: 'center', gap: '1em', padding: '0.35em 0.7em', background: line.state === 'down' ? 'var(--down-soft)' : undefined }}>
              <span className="row" style={{ flexWrap: 'nowrap', minWidth: 0, gap: '0.5em' }}><StateMark state={line.state} size={18} /><span className="clip"><b>{line.name}</b>{line.state !== 'up' && <span className={line.state === 'down' ? 'down-text' : 'quiet'} style={{ fontSize: '0.75em' }}> {STATE_NAMES[line.state].toLowerCase()} for {line.since}{line.sentence && `: ${line.sentence}`}</span>}</span></span>
              <Ribbon blocks={line.blocks} range={view.range} now={view.at} begins={line.begins} height={18} label={`${line.name}, the last 24 hours`} />
              <span role="img" aria-label={view.locations.map((place, column) => `${place}: ${{ fail: 'failing', slow: 'slow', warn: 'warning', pass: 'passing', none: 'not asked' }[line.cells[column]!]}`).join(', ')} style={{ display: 'flex', gap: 2 }}>{line.cells.map((cell, column) => <span key={column} title={view.locations[column]} style={{ flex: 1, height: '0.9em', borderRadius: 2, background: FILLS[cell], border: cell === 'none' ? '1px dotted var(--line)' : cell === 'fail' ? '2px solid var(--down)' : cell === 'slow' ? '2px dashed var(--slow)' : '1px solid var(--line)' }} />)}</span>
            </div>
          ))}
        </div>
        <p className="quiet" style={{ fontSize: '0.65em' }}>The line is the last 24 hours; the boxes are {view.locations.join(', ')}.</p>
      </main>
    </ZoneProvider>
  )
}
