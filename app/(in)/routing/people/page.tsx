import { isOff } from '@/core/routing/reach'
import { onCall } from '@/core/rotas/rota'
import { speakDay, toLocal, writeLocal } from '@/core/time/zoned'
import { MEANS_WORDS } from '@/core/routing/means'
import { database } from '@/store/database'
import { listPeople, roleReaches } from '@/store/people'
import { listRouting, readRoutingWorld } from '@/store/routing'
import { RefreshOn } from '@/ui/live/live'
import { DaysOffForm } from '@/ui/routing/days-off'
import { RoutingHead } from '@/ui/routing/routing-nav'
import { InviteForm, WishesButton } from '@/ui/routing/people'
import { RemoveTeam, TeamForm } from '@/ui/routing/team-form'
import { signedIn } from '../../../server/session'

export const metadata = { title: 'People' }

export default async function People() {
  const now = Date.now()
  const me = await signedIn()
  const [people, { listening }, documents] = await Promise.all([listPeople(database()), readRoutingWorld(database()), listRouting(database())])
  const { zone } = listening
  const away = listening.people.filter((person) => isOff(person, now, zone)).map((person) => person.name)
  const today = writeLocal(toLocal(now, zone)).slice(0, 10)
  const teams = documents.filter((each) => each.kind === 'team')
  const zones = [...new Set([zone, ...Intl.supportedValuesOf('timeZone')])]
  const canEdit = roleReaches(me, 'editor')
  return (
    <>
      <RefreshOn topics={['definitions']} pause={800} />
      <RoutingHead title={away.length === 0 ? 'Nobody is away today.' : `${away.join(', ')} ${away.length === 1 ? 'is' : 'are'} away today.`}>{me.role === 'owner' && <InviteForm />}</RoutingHead>
      <div className="detail">
        <div className="card scroll"><table className="table">
          <thead><tr><th>Person</th><th>Told by</th><th>Quiet</th><th>On call for</th><th>Away</th><th><span className="sr">Actions</span></th></tr></thead>
          <tbody>{people.map((person) => {
            const listed = listening.people.find((each) => each.key === person.key)
            const means = listening.channels.filter((each) => each.person === person.key && each.working && !each.unconfirmed).map((each) => each.kind)
            const unconfirmed = listening.channels.filter((each) => each.person === person.key && each.unconfirmed).map((each) => each.kind)
            const calls = listening.rotas.filter((rota) => onCall(rota, now)?.person === person.key).map((rota) => rota.name)
            const off = (listed?.off ?? []).filter((each) => each.to >= today)
            return (
              <tr key={person.key}>
                <td><b>{person.name}</b><div className="quiet small">{person.job || person.role}</div></td>
                <td className="small">{means.length === 0 ? <span className="down-text strong">nothing that works</span> : [...new Set(means)].map((each) => MEANS_WORDS[each]).join(', ')}{unconfirmed.length > 0 && <div className="slow-text">{unconfirmed.map((each) => MEANS_WORDS[each]).join(', ')} not confirmed</div>}</td>
                <td className="small quiet">{listed?.preferences?.quiet?.map((each) => <div key={each}>{each}</div>)}{listed?.preferences?.zone && <div>{listed.preferences.zone}</div>}</td>
                <td className="small">{calls.join(', ')}</td>
                <td className="small">{off.map((each) => <div key={each.from}>{each.from === each.to ? each.from : `${each.from} to ${each.to}`}</div>)}</td>
                <td style={{ textAlign: 'right', whiteSpace: 'nowrap' }}>{(canEdit || me.key === person.key) && <WishesButton person={person.key} name={person.name} wishes={listed?.preferences ?? {}} zone={zone} zones={zones} />}{(canEdit || me.key === person.key) && <DaysOffForm person={person.key} name={person.name} off={listed?.off ?? []} today={today} />}</td>
              </tr>
            )
          })}</tbody>
        </table></div>
        <section><div className="apart" style={{ marginBottom: 6 }}><h2>Teams</h2>{canEdit && <TeamForm people={people.map(({ key, name }) => ({ key, name }))} />}</div>
          <div className="card pad">
            {teams.length === 0 && <span className="quiet">No team yet. A team is told together.</span>}
            {listening.teams.map((team) => (
              <div key={team.key} className="apart" style={{ padding: '4px 0' }}>
                <span><b>{team.name}</b><span className="quiet small" style={{ display: 'block' }}>{team.people.length === 0 ? 'nobody in it' : team.people.map((key) => people.find((each) => each.key === key)?.name ?? key).join(', ')}</span></span>
                {canEdit && <span className="row" style={{ gap: 4 }}><TeamForm people={people.map(({ key, name }) => ({ key, name }))} team={team} version={teams.find((each) => each.key === team.key)?.version ?? 0} /><RemoveTeam team={team.key} name={team.name} /></span>}
              </div>
            ))}
          </div>
          <p className="quiet small">Today is {speakDay(now, zone)} in {zone}; days off are days of that calendar.</p></section>
      </div>
    </>
  )
}
