import { healthOf, type ChannelHealth } from '@/core/channels/health'
import type { Behaviour } from '@/core/channels/read-channel'
import { speakDuration } from '@/core/definitions/duration'
import { MEANS_WORDS } from '@/core/routing/means'
import { reachedBy } from '@/core/routing/reached-by'
import { DAY } from '@/core/units'
import { database } from '@/store/database'
import { listCarried, listChannels, type Channel } from '@/store/deliveries'
import { listPeople, roleReaches } from '@/store/people'
import { readRoutingWorld } from '@/store/routing'
import { RefreshOn } from '@/ui/live/live'
import { ChannelButtons, NewChannel } from '@/ui/routing/channels'
import { RoutingHead } from '@/ui/routing/routing-nav'
import { signedIn } from '../../../server/session'

export const metadata = { title: 'Channels' }

export default async function Channels() {
  const me = await signedIn()
  const [channels, carried, people, { routes, listening }] = await Promise.all([listChannels(database()), listCarried(database(), Date.now() - 7 * DAY), listPeople(database()), readRoutingWorld(database())])
  const health = healthOf(carried)
  const others = channels.map(({ key, name }) => ({ key, name }))
  const open = channels.filter((each) => !each.confirmed).length
  const lost = channels.filter((each) => (health.get(each.id)?.lostInARow ?? 0) >= 3).length
  const title = channels.length === 0 ? 'No channel yet: nobody would be told.' : `${channels.length} ways to reach people${lost > 0 ? `, ${lost} of them dead` : ''}${open > 0 ? `, ${open} not confirmed` : ''}`
  return (
    <>
      <RefreshOn topics={['definitions', 'delivery']} pause={1500} />
      <RoutingHead title={title}>{roleReaches(me, 'responder') && <NewChannel me={me.key} people={people.map(({ key, name }) => ({ key, name }))} />}</RoutingHead>
      <div className="card scroll"><table className="table">
        <thead><tr><th>Reaches</th><th>By</th><th>Where</th><th className="number">Sent</th><th className="number">Usually in</th><th className="number">Slowest</th><th className="number">Failing</th><th>Told by</th><th><span className="sr">Actions</span></th></tr></thead>
        <tbody>
          {channels.length === 0 && <tr><td colSpan={9} className="quiet">Add a mail address, or a webhook for the whole team; a browser is added under Account.</td></tr>}
          {channels.map((channel) => {
            const own = health.get(channel.id)
            const told = reachedBy({ key: channel.key, kind: channel.kind, ...(channel.person === null ? {} : { person: people.find((each) => each.id === channel.person)!.key }) }, routes, listening).map((route) => routes.indexOf(route) + 1)
            const { words, limit, fallback } = channel.config as Behaviour
            return (
              <tr key={channel.id}>
                <td className="strong">{channel.personName ?? channel.name}</td><td>{MEANS_WORDS[channel.kind]}</td>
                <td className="small quiet"><div className="clip" style={{ maxWidth: 250 }} title={where(channel)}>{where(channel)}</div>
                  {!channel.confirmed && <span className="slow-text strong">not confirmed</span>}
                  {(words ?? limit ?? fallback) !== undefined && <div>{[words ? 'own words' : '', limit ? `at most ${limit.most} in ${limit.minutes} min` : '', fallback ? `then ${others.find((each) => each.key === fallback)?.name ?? fallback}` : ''].filter((part) => part !== '').join(', ')}</div>}</td>
                <HealthCells health={own} />
                <td className="small">{told.length === 0 ? <span className="quiet">no route</span> : `${told.length === 1 ? 'route' : 'routes'} ${told.join(', ')}`}</td>
                <td><ChannelButtons channel={{ id: channel.id, key: channel.key, name: channel.name, kind: channel.kind, confirmed: channel.confirmed, behaviour: { ...(words ? { words } : {}), ...(limit ? { limit } : {}), ...(fallback ? { fallback } : {}) }, mayChange: channel.person === me.id || roleReaches(me, 'editor') }} others={others} /></td>
              </tr>
            )
          })}
        </tbody></table></div>
      <p className="quiet small">Of the last 7 days. Failing: needed more than one try, or did not arrive. Whatever stands in for a channel takes over after three failed tries in a row for what is urgent, after six for the rest.</p>
    </>
  )
}

function HealthCells({ health }: { health: ChannelHealth | undefined }) {
  if (!health) return <><td className="number quiet">0</td><td /><td /><td /></>
  return (
    <>
      <td className="number">{health.messages}</td><td className="number">{health.median === undefined ? '' : speakDuration(health.median)}</td><td className="number">{health.slowest === undefined ? '' : speakDuration(health.slowest)}</td>
      <td className={`number ${health.lostInARow >= 3 ? 'down-text strong' : health.failing > 0.1 ? 'slow-text strong' : ''}`}>{health.lostInARow >= 3 ? `the last ${health.lostInARow}` : `${Math.round(100 * health.failing)}%`}</td>
    </>
  )
}

const where = ({ kind, config }: Channel) => ({ mail: String(config.to), sms: String(config.number), voice: String(config.number), push: 'a device', chat: `${config.topic ? `${String(config.topic)}, ` : ''}${String(config.url)}`, webhook: String(config.url) })[kind]
