import { database } from '@/store/database'
import { listTokens } from '@/store/people'
import { EndTokenButton, SettingsForm, TokenForm } from '@/ui/forms/settings'
import { Moment } from '@/ui/marks/moment'
import { settings, signedIn } from '../../server/session'

export const metadata = { title: 'Settings' }

export default async function Settings() {
  const person = await signedIn()
  const now = Date.now()
  const { name, zone, theme, address, proxies, keep, mail, gateways } = await settings()
  const tokens = await listTokens(database())
  return (
    <>
      <h1 style={{ marginBottom: 10 }}>Settings</h1>
      <SettingsForm values={{ name, zone, theme, address, proxies, keep, mail: { ...mail, password: '' }, gateways: gateways.map((each) => ({ ...each, token: '' })) }} zones={[...new Set(['UTC', zone, ...Intl.supportedValuesOf('timeZone')])]} editable={person.role === 'owner'} />
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
