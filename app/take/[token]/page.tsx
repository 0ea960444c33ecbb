import Link from 'next/link'
import { incidentLength, incidentTitle, troubleMark, speakPlaces } from '@/core/incidents/incident'
import { speakTime } from '@/core/time/zoned'
import { StateMark } from '@/ui/marks/state-mark'
import { TakeByLink } from '@/ui/incident/take-by-link'
import { personOfRequest, settings } from '../../server/session'
import { readLink } from '../../server/take-link'

export const metadata = { title: 'Take it' }

/** What a link from a message leads to: the incident in a few sentences, to be taken without signing in where the person allows it. */
export default async function Take({ params }: { params: Promise<{ token: string }> }) {
  const now = Date.now()
  const { token } = await params
  const linked = await readLink(token, now)
  if ('wrong' in linked) return <main className="card take"><h1>{linked.wrong}</h1><p><Link href="/incidents">Open the incidents</Link></p></main>
  const { incident, person, delivery } = linked
  const { zone } = await settings()
  const me = await personOfRequest()
  const needsSignIn = !delivery.takeByLink && me?.id !== person.id
  const isOpen = incident.closedAt === null
  return (
    <main className="card take">
      <div className="row" style={{ flexWrap: 'nowrap', alignItems: 'baseline' }}><StateMark state={isOpen ? troubleMark(incident.trouble) : 'up'} size={14} /><h1>{incidentTitle({ checkName: incident.checkName, trouble: incident.trouble, more: incident.partsOpen, ...(incident.endedAt === null ? {} : { endedAt: incident.endedAt }) })}</h1></div>
      {incident.practiceUntil !== null && <p className="strong">A practice outage: nothing is really down.</p>}
      <p>{incident.sentence}, {speakPlaces(incident.failing, incident.locations)}.</p>
      <p className="quiet">Since {speakTime(incident.since, zone)}; {incidentLength({ since: incident.since, ...(incident.endedAt === null ? {} : { endedAt: incident.endedAt }) }, now)}. {incident.holderName === null ? (isOpen ? 'Nobody holds it.' : '') : `${incident.holderName} holds it.`}</p>
      {!isOpen ? <p className="strong">It is over.</p>
        : incident.holder === person.id ? <p className="strong">You hold it.</p>
          : needsSignIn ? <p>{person.name} takes incidents after signing in only. <Link className="strong" href={`/incidents/${incident.id}`}>Sign in and open it</Link></p>
            : <TakeByLink token={token} name={person.name} used={delivery.usedAt !== null} />}
      <p><Link href={`/incidents/${incident.id}`}>Open it in Hemeron</Link></p>
    </main>
  )
}
