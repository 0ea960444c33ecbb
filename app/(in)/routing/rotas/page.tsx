import { speakLength } from '@/core/definitions/duration'
import { formatHours } from '@/core/hours/hours'
import { signedName, type SignedKind } from '@/core/inside/signed-name'
import { hasRule, onCall, shifts, type Rota, type RotaDocument } from '@/core/rotas/rota'
import { dayStart, dayStartFrom, speakDay, speakMoment, toLocal, writeLocal } from '@/core/time/zoned'
import { DAY } from '@/core/units'
import { database } from '@/store/database'
import { listPeople, roleReaches } from '@/store/people'
import { listRouting, readRoutingWorld } from '@/store/routing'
import { RefreshOn } from '@/ui/live/live'
import { RotaForm } from '@/ui/routing/rota-form'
import { RotaTools } from '@/ui/routing/rota-tools'
import { RoutingHead } from '@/ui/routing/routing-nav'
import { DayButton, StandInArea } from '@/ui/routing/stand-in'
import { settings, signedIn } from '../../../server/session'

export const metadata = { title: 'Rotas' }

/** How many days the calendar of a rota shows. */
const DAYS = 14

export default async function Rotas() {
  const now = Date.now()
  const me = await signedIn()
  const canEdit = roleReaches(me, 'editor')
  const [people, { rotas, listening }, documents] = await Promise.all([listPeople(database()), readRoutingWorld(database()), listRouting(database())])
  const { linkKey } = await settings()
  const feedOf = (what: string) => `/api/shifts/${signedName(what.split('/')[0] as SignedKind, what.split('/')[1]!, linkKey)}.ics`
  const names = new Map(people.map((person) => [person.key, person.name]))
  const persons = people.map(({ key, name }) => ({ key, name }))
  const today = writeLocal(toLocal(dayStart(now, listening.zone), listening.zone))
  const calls = [...new Set(rotas.flatMap((rota) => { const call = onCall(rota, now); return call ? [(names.get(call.person) ?? call.person).split(' ')[0]!] : [] }))]
  return (
    <>
      <RefreshOn topics={['definitions']} pause={800} />
      <RoutingHead title={rotas.length === 0 ? 'No rota yet.' : calls.length === 0 ? 'Nobody is on call.' : `${speakNames(calls)} ${calls.length === 1 ? 'is' : 'are'} on call.`}>{canEdit && <RotaForm people={persons} zone={listening.zone} today={today} />}</RoutingHead>
      {rotas.length === 0 && <div className="card empty"><h2>Who is on call when?</h2><p className="quiet">A rota hands over by itself, every day or every week, at the same time on the wall.</p></div>}
      {rotas.length > 0 && <p className="quiet small" style={{ margin: '0 0 8px' }}><a href={feedOf(`person/${me.key}`)}>Calendar of your own shifts</a>. Whoever has the address of a calendar can read it.</p>}
      <div className="stack">{rotas.map((rota) => {
        const stored = documents.find((each) => each.kind === 'rota' && each.key === rota.key)!
        return <RotaCard key={rota.key} rota={rota} now={now} names={names} feed={feedOf(`rota/${rota.key}`)} tools={canEdit ? <span className="row"><RotaForm key={stored.version} people={persons} zone={listening.zone} today={today} rota={stored.document as RotaDocument} version={stored.version} /><RotaTools document={stored.document as RotaDocument} version={stored.version} people={persons} today={today} /></span> : null} />
      })}</div>
    </>
  )
}

const speakNames = (names: string[]) => (names.length > 4 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`)

function RotaCard({ rota, now, names, feed, tools }: { rota: Rota; now: number; names: ReadonlyMap<string, string>; feed: string; tools: React.ReactNode }) {
  const range = { from: dayStart(now, rota.zone), to: dayStartFrom(now, DAYS, rota.zone) }
  const all = shifts(rota, range)
  const present = all.find((shift) => shift.from <= now && now < shift.to)
  const next = all.find((shift) => shift.from > now)
  const say = (person: string | undefined) => (person === undefined ? 'nobody' : names.get(person) ?? person)
  const order = [...new Set(rota.layers.flatMap((layer) => layer.people).concat(rota.cover.map((each) => each.person)))]
  return (
    <StandInArea><section className="card pad" aria-label={rota.name}>
      <div className="apart">
        <span><b style={{ fontSize: 15 }}>{rota.name}</b> <span className="quiet small">{rota.layers.map((layer) => `${layer.people.map((key) => names.get(key) ?? key).join(', ')} in turn, ${hasRule(layer) ? `handing over by ${layer.every}` : `by the ${layer.every}`}${layer.hours ? `, ${layer.hours.at.map(formatHours).join(' and ')}` : ''}`).join('; ')}; {rota.zone}</span></span>
        {tools}
      </div>
      <p style={{ margin: '6px 0 8px' }}>{present?.person === undefined ? <span className="down-text strong">Nobody is on call</span> : <b>{say(present.person)}</b>} {present?.isCover && 'stands in '}until {present ? speakMoment(present.to, rota.zone, now) : ''}{next && `, then ${say(next.person)} for ${speakLength(next.to - next.from)}`}.</p>
      <div style={{ position: 'relative', height: 22 + 22 * Math.max(1, order.length), minWidth: 0 }}>
        {Array.from({ length: DAYS }, (_, day) => dayStartFrom(now, day, rota.zone)).map((at) => (
          <DayButton key={at} day={writeLocal(toLocal(at, rota.zone))} label={speakDay(at, rota.zone)} style={{ position: 'absolute', left: `${(100 * (at - range.from)) / (range.to - range.from)}%`, top: 0, bottom: 0, borderLeft: '1px solid var(--line)', paddingLeft: 3, whiteSpace: 'nowrap', overflow: 'hidden', width: `${(100 * DAY) / (range.to - range.from)}%` }} />
        ))}
        {all.map((shift) => {
          const row = shift.person === undefined ? 0 : order.indexOf(shift.person)
          const text = `${say(shift.person)}${shift.isCover ? ', standing in' : ''}, ${speakMoment(shift.from, rota.zone, now)} to ${speakMoment(shift.to, rota.zone, now)}`
          return (
            <span key={shift.from} title={text} style={{
              position: 'absolute', left: `${(100 * (shift.from - range.from)) / (range.to - range.from)}%`, width: `${(100 * (shift.to - shift.from)) / (range.to - range.from)}%`, top: 22 + 22 * row, height: 19, overflow: 'hidden', whiteSpace: 'nowrap', padding: '0 6px', fontSize: 12, borderRadius: 4,
              ...(shift.person === undefined ? { background: 'var(--down-soft)', border: '1px dashed var(--down)', color: 'var(--down-text)' } : shift.isCover ? { background: 'var(--card)', border: '1px solid var(--action)', color: 'var(--ink)' } : { background: 'var(--action-soft)', color: 'var(--ink)' })
            }}>{say(shift.person)}{shift.isCover && ', standing in'}</span>
          )
        })}
        <span aria-hidden style={{ pointerEvents: 'none', position: 'absolute', left: `${(100 * (now - range.from)) / (range.to - range.from)}%`, top: 18, bottom: 0, borderLeft: '2px solid var(--ink)' }} />
      </div>
      <p className="quiet small" style={{ margin: '8px 0 0' }}>A click on a day lets somebody stand in. <a href={feed}>Calendar of this rota</a> for any program that subscribes to calendars.</p>
    </section></StandInArea>
  )
}
