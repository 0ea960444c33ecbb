import Link from 'next/link'
import { speakLength } from '@/core/definitions/duration'
import { MEANS_WORDS } from '@/core/routing/means'
import { database } from '@/store/database'
import { listDeliveries, type Delivery } from '@/store/deliveries'
import { RefreshOn } from '@/ui/live/live'
import { Moment } from '@/ui/marks/moment'
import { ResendButton } from '@/ui/routing/resend-button'
import { RoutingHead } from '@/ui/routing/routing-nav'

export const metadata = { title: 'Sent' }

export default async function Sent() {
  const now = Date.now()
  const sent = await listDeliveries(database(), { limit: 200 })
  const waiting = sent.filter((each) => each.state === 'waiting' || each.state === 'sending').length
  const lost = sent.filter((each) => each.state === 'failed').length
  const title = sent.length === 0 ? 'Nothing was sent yet.' : waiting + lost === 0 ? `The last ${sent.length} messages all arrived.` : [waiting > 0 ? `${waiting} on the way` : '', lost > 0 ? `${lost} given up` : ''].filter((part) => part !== '').join(', ')
  return (
    <>
      <RefreshOn topics={['delivery']} pause={800} />
      <RoutingHead title={title} />
      <div className="card scroll"><table className="table">
        <thead><tr><th>When</th><th>To</th><th>What</th><th>Why</th><th>How it went</th><th><span className="sr">Send again</span></th></tr></thead>
        <tbody>
          {sent.length === 0 && <tr><td colSpan={6} className="quiet">Every message stands here, with why it was sent and how it went.</td></tr>}
          {sent.map((delivery) => (
            <tr key={delivery.id}>
              <td className="small quiet"><Moment at={delivery.createdAt} now={now} clock /></td><td className="small">{delivery.person ?? delivery.channel}<div className="quiet">{MEANS_WORDS[delivery.channelKind]}</div></td>
              <td className="small">{delivery.incident === null ? delivery.subject : <Link href={`/incidents/${delivery.incident}`}>{delivery.subject}</Link>}</td>
              <td className="small quiet">{delivery.cause ?? (delivery.news === 'test' ? 'A test' : '')}</td><td className="small"><Outcome delivery={delivery} now={now} /></td><td style={{ textAlign: 'right' }}>{delivery.news !== 'code' && delivery.state !== 'waiting' && delivery.state !== 'sending' && <ResendButton id={delivery.id} subject={delivery.subject} />}</td>
            </tr>
          ))}
        </tbody></table></div>
    </>
  )
}

function Outcome({ delivery, now }: { delivery: Delivery; now: number }) {
  if (delivery.state === 'sent') return <>sent in {((delivery.sentAt! - delivery.createdAt) / 1000).toFixed(1)} s{delivery.tries > 1 && `, at try ${delivery.tries}`}</>
  if (delivery.state === 'held') return <span className="quiet">waits for the end of quiet hours, <Moment at={delivery.dueAt} now={now} clock /></span>
  if (delivery.state === 'gathered' || delivery.state === 'dropped') return <span className="quiet">{delivery.answer}</span>
  if (delivery.state === 'replaced') return <span className="slow-text strong">{delivery.answer}</span>
  if (delivery.state === 'failed') return <span className="down-text strong" title={delivery.answer ?? ''}>given up after {delivery.tries} tries: {delivery.answer}</span>
  return <span className="slow-text" title={delivery.answer ?? ''}>{delivery.tries === 0 ? 'waiting' : `${delivery.answer ?? 'being sent'}; next try ${delivery.dueAt > now ? `in ${speakLength(delivery.dueAt - now)}` : 'now'}`}</span>
}
