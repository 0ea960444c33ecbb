import { database } from '@/store/database'
import { listParties } from '@/store/parties'
import { roleReaches } from '@/store/people'
import { FindOutHead } from '@/ui/findout/find-out-nav'
import { PartyForm, RemoveParty } from '@/ui/findout/party-form'
import { signedIn } from '../../../server/session'

export const metadata = { title: 'Parties' }

export default async function Parties() {
  const canEdit = roleReaches(await signedIn(), 'editor')
  const parties = await listParties(database())
  return (
    <>
      <FindOutHead title={parties.length === 0 ? 'Who stands between a visitor and an answer?' : `${parties.length} ${parties.length === 1 ? 'party stands' : 'parties stand'} between a visitor and an answer.`}>{canEdit && <PartyForm />}</FindOutHead>
      <p className="quiet" style={{ margin: '0 0 10px' }}>Hosts, address ranges and networks belong to named parties. Every verdict says which of them is to blame, which is cleared and which cannot be told, and whom to call.</p>
      {parties.length === 0 ? <div className="card empty"><h2>No party is named yet.</h2><p className="quiet">Name whoever you would call: the hosting, the name service, the provider of a location. Verdicts then say whom, and how.</p></div> : (
        <div className="card scroll"><table className="table"><thead><tr><th>Party</th><th>Is</th><th>Contact</th><th>What belongs to it</th><th /></tr></thead>
          <tbody>{parties.map((party) => <tr key={party.key}><td className="strong">{party.name}</td><td>{party.kind}</td><td>{party.contact ?? <span className="slow-text">none</span>}</td><td className="small" style={{ overflowWrap: 'anywhere' }}>{[...party.networks, ...party.hosts, ...party.ranges].join(', ') || <span className="slow-text">nothing yet</span>}</td><td className="number">{canEdit && <><PartyForm party={party} /><RemoveParty party={party.key} name={party.name} /></>}</td></tr>)}</tbody></table></div>
      )}
    </>
  )
}
