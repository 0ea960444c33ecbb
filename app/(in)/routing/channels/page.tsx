import { database } from '@/store/database'
import { listChannels, type Channel } from '@/store/deliveries'
import { RefreshOn } from '@/ui/live/live'
import { ChannelButtons, NewChannel } from '@/ui/routing/channels'
import { RoutingHead } from '@/ui/routing/routing-nav'

export const metadata = { title: 'Channels' }

export default async function Channels() {
  const channels = await listChannels(database())
  return (
    <>
      <RefreshOn topics={['definitions']} pause={800} />
      <RoutingHead title={channels.length === 0 ? 'No channel yet: nobody would be told.' : `${channels.length} ways to reach people`}><NewChannel /></RoutingHead>
      <div className="card scroll"><table className="table">
        <thead><tr><th>Channel</th><th>Reaches</th><th>Where</th><th><span className="sr">Actions</span></th></tr></thead>
        <tbody>
          {channels.length === 0 && <tr><td colSpan={4} className="quiet">Add a mail address, or a webhook for the whole team; a browser is added under Account.</td></tr>}
          {channels.map((channel) => <tr key={channel.id}><td className="strong">{channel.kind}</td><td>{channel.personName ?? channel.name}</td><td className="small quiet"><div className="clip" style={{ maxWidth: 420 }}>{where(channel)}</div></td><td><ChannelButtons id={channel.id} name={channel.name} /></td></tr>)}
        </tbody></table></div>
    </>
  )
}

const where = ({ kind, config }: Channel) => (kind === 'mail' ? String(config.to) : kind === 'webhook' ? String(config.url) : 'a device')
