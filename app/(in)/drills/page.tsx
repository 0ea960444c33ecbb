import { notFound } from 'next/navigation'
import { RefreshOn } from '@/ui/live/live'
import { DrillSwitch, PressKey } from '@/ui/forms/drill-switch'
import { Moment } from '@/ui/marks/moment'
import { settings } from '../../server/session'

export const metadata = { title: 'Drills' }

interface Drill { key: string; name: string; says: string; on: boolean }
interface Tray { messages: { key: string; at: number; by: string; to: string; subject: string; text: string; urgent: boolean; signed?: boolean; call?: boolean }[]; count: number }

async function ask<Answer>(url: string): Promise<Answer | undefined> {
  return fetch(url, { signal: AbortSignal.timeout(3000), cache: 'no-store' }).then((answer) => answer.json() as Promise<Answer>, () => undefined)
}

/** The demo's own page: faults to switch on, and the messages that arrived at the stand-in receivers. */
export default async function Drills() {
  const { world } = await settings()
  if (world === '') notFound()
  const now = Date.now()
  const [drills, tray] = await Promise.all([ask<Drill[]>(`${world}/drills`), ask<Tray>(`${world}/tray?limit=60`)])
  return (
    <>
      <RefreshOn topics={['delivery']} pause={800} />
      <h1>Make something fail, and see who hears of it</h1>
      <p className="quiet">Only the demo has this page. The servers, the protocols and the messages are real; the distance and the faults are made up.</p>
      <div className="halves">
        <section><h2 style={{ marginBottom: 6 }}>Drills</h2>
          {drills === undefined ? <div className="notice trouble">The stand-in world does not answer.</div> : (
            <div className="card">{drills.map((drill) => (
              <div key={drill.key} className="apart pad" style={{ borderBottom: '1px solid var(--line)', flexWrap: 'nowrap' }}><div><b>{drill.name}</b><div className="quiet small">{drill.says}</div></div><DrillSwitch drill={drill.key} name={drill.name} on={drill.on} /></div>
            ))}</div>
          )}</section>
        <section style={{ minWidth: 0 }}><h2 style={{ marginBottom: 6 }}>Messages that arrived{tray && tray.count > 0 && ` (${tray.count})`}</h2>
          <div className="card">
            {(tray?.messages ?? []).length === 0 && <div className="pad quiet">No message has arrived yet. Switch on a drill; the first comes within about a minute.</div>}
            {(tray?.messages ?? []).map((message) => (
              <details key={message.by + message.to + message.key} style={{ borderBottom: '1px solid var(--line)' }} className="pad">
                <summary style={{ cursor: 'pointer' }}><b>{message.subject}</b> <span className="quiet small">{message.by} to {message.to}, <Moment at={message.at} now={now} clock />{message.urgent && ', urgent'}{message.signed && ', signature verified'}</span></summary>
                <pre style={{ marginTop: 8, whiteSpace: 'pre-wrap' }}>{message.text}</pre>
                {message.call && <PressKey call={message.key} />}
              </details>
            ))}
          </div></section>
      </div>
    </>
  )
}
