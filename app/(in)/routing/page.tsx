import Link from 'next/link'
import { speakLength } from '@/core/definitions/duration'
import { database } from '@/store/database'
import { listChannels, listDeliveries, type Delivery } from '@/store/deliveries'
import { RefreshOn } from '@/ui/live/live'
import { ChannelButtons, NewChannel } from '@/ui/forms/routing'
import { Moment } from '@/ui/marks/moment'

export const metadata = { title: 'Routing' }

export default async function Routing() {
  const now = Date.now()
  const [channels, sent] = await Promise.all([listChannels(database()), listDeliveries(database(), { limit: 60 })])
  const people = new Set(channels.map((channel) => channel.personName).filter((name) => name !== null))
  return (
    <>
      <RefreshOn topics={['delivery']} pause={800} />
      <div className="apart"><h1>Who hears what</h1><NewChannel /></div>
      <div className="card pad" style={{ margin: '10px 0 18px', fontSize: 15 }}>
        When <b>anything</b> goes <b>down</b> or <b>slow</b>, tell <b>everyone</b> ({people.size} {people.size === 1 ? 'person' : 'people'}{channels.some((channel) => channel.person === null) && ', and the channels of the whole team'}) at once, by every channel they have. Those who were told hear that it is over. A muted check tells nobody.
      </div>
      <div className="halves">
        <section style={{ minWidth: 0 }}><h2 style={{ marginBottom: 6 }}>Channels</h2>
          <div className="card scroll"><table className="table">
            <thead><tr><th>Channel</th><th>Reaches</th><th>Where</th><th><span className="sr">Actions</span></th></tr></thead>
            <tbody>
              {channels.length === 0 && <tr><td colSpan={4} className="quiet">No channel yet: nobody would be told.</td></tr>}
              {channels.map((channel) => <tr key={channel.id}><td className="strong">{channel.kind}</td><td>{channel.personName ?? channel.name}</td><td className="small quiet"><div className="clip" style={{ maxWidth: 190 }}>{where(channel)}</div></td><td><ChannelButtons id={channel.id} name={channel.name} /></td></tr>)}
            </tbody></table></div></section>
        <section style={{ minWidth: 0 }}><h2 style={{ marginBottom: 6 }}>Sent</h2>
          <div className="card scroll"><table className="table">
            <thead><tr><th>When</th><th>To</th><th>What</th><th>How it went</th></tr></thead>
            <tbody>
              {sent.length === 0 && <tr><td colSpan={4} className="quiet">Nothing was sent yet.</td></tr>}
              {sent.map((delivery) => <tr key={delivery.id}><td className="small quiet"><Moment at={delivery.createdAt} now={now} clock /></td><td className="small">{delivery.channel}</td>
                <td className="small">{delivery.incident === null ? delivery.subject : <Link href={`/incidents/${delivery.incident}`}>{delivery.subject}</Link>}</td><td className="small"><Outcome delivery={delivery} now={now} /></td></tr>)}
            </tbody></table></div></section>
      </div>
    </>
  )
}

const where = ({ kind, config }: { kind: string; config: Record<string, unknown> }) => (kind === 'mail' ? String(config.to) : kind === 'webhook' ? String(config.url) : 'a device')

function Outcome({ delivery, now }: { delivery: Delivery; now: number }) {
  if (delivery.state === 'sent') return <>sent in {((delivery.sentAt! - delivery.createdAt) / 1000).toFixed(1)} s{delivery.tries > 1 && `, at try ${delivery.tries}`}</>
  if (delivery.state === 'failed') return <span className="down-text strong" title={delivery.answer ?? ''}>given up after {delivery.tries} tries: {delivery.answer}</span>
  return <span className="slow-text" title={delivery.answer ?? ''}>{delivery.tries === 0 ? 'waiting' : `${delivery.answer ?? 'being sent'}; next try ${delivery.dueAt > now ? `in ${speakLength(delivery.dueAt - now)}` : 'now'}`}</span>
}
