import { database } from '@/store/database'
import { listLocations } from '@/store/locations'
import { listTokens } from '@/store/people'
import { listProbes } from '@/store/probes'
import { EndTokenButton, PlaceForm, SettingsForm, TokenForm } from '@/ui/forms/settings'
import { Lasting, Moment } from '@/ui/marks/moment'
import { settings, signedIn } from '../../server/session'

export const metadata = { title: 'Settings' }

export default async function Settings() {
  const person = await signedIn()
  const now = Date.now()
  const { name, zone, theme, address, proxies, keep, mail } = await settings()
  const [tokens, locations, probes] = await Promise.all([listTokens(database()), listLocations(database()), listProbes(database())])
  return (
    <>
      <h1 style={{ marginBottom: 10 }}>Settings</h1>
      <SettingsForm values={{ name, zone, theme, address, proxies, keep, mail: { ...mail, password: '' } }} zones={[...new Set(['UTC', zone, ...Intl.supportedValuesOf('timeZone')])]} editable={person.role === 'owner'} />
      <section className="section"><h2>Locations and probes</h2><div className="card pad">
        <table className="table" style={{ marginBottom: 10 }}><thead><tr><th>Location</th><th>Network</th><th>Probe</th><th>Last seen</th></tr></thead><tbody>
          {locations.map((location) => {
            const own = probes.filter((probe) => probe.locations.includes(location.id))
            const seen = Math.max(0, ...own.map((probe) => probe.seenAt ?? 0))
            return <tr key={location.id}><td><b>{location.place}</b> <span className="quiet">{location.country}</span></td><td>{location.network} <span className="quiet">{location.networkType}</span></td><td>{own.map((probe) => probe.name).join(', ') || <span className="slow-text">none</span>}</td><td>{seen === 0 ? <span className="slow-text">never</span> : <Lasting since={seen} first={now} suffix=" ago" />}</td></tr>
          })}
        </tbody></table>
        <PlaceForm url={address || 'http://127.0.0.1:4100'} />
      </div></section>
      <section className="section"><h2>API tokens</h2><div className="card pad">
        {tokens.length > 0 && <table className="table" style={{ marginBottom: 10 }}><thead><tr><th>For</th><th>May</th><th>Made by</th><th>Ends</th><th>Last used</th><th /></tr></thead><tbody>
          {tokens.map((token) => <tr key={token.id}><td className="strong">{token.name}</td><td>{token.scope}</td><td>{token.person}</td><td>{token.expiresAt === null ? 'never' : <Moment at={token.expiresAt} now={now} />}</td><td>{token.usedAt === null ? 'never' : <Moment at={token.usedAt} now={now} />}</td><td className="number"><EndTokenButton id={token.id} /></td></tr>)}
        </tbody></table>}
        <TokenForm />
        <p className="small quiet">The API is described at <a href="/api/v1/openapi.json">/api/v1/openapi.json</a>.</p>
      </div></section>
    </>
  )
}
