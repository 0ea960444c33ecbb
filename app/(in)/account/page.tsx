import { database } from '@/store/database'
import { preferencesOf } from '@/store/preferences'
import { WishesForm } from '@/ui/routing/wishes'
import { PasswordForm, PushHere, ThemeChoice } from '@/ui/forms/account'
import { settings, signedIn } from '../../server/session'

export const metadata = { title: 'Account' }

export default async function Account() {
  const person = await signedIn()
  const { push, zone } = await settings()
  const wishes = await preferencesOf(database(), person.id)
  return (
    <div style={{ maxWidth: 620 }} className="stack">
      <div><h1>{person.name}</h1><p className="quiet" style={{ margin: '4px 0 0' }}>{person.mail}{person.job && ` · ${person.job}`} · {person.role}</p></div>
      <section><h2>Theme</h2><div className="card pad"><ThemeChoice theme={person.theme} /></div></section>
      <section><h2>Push</h2><div className="card pad"><PushHere publicKey={push.publicKey} person={person.name} personKey={person.key} /></div></section>
      <section><h2>How you are told</h2><div className="card pad"><WishesForm person={person.key} wishes={wishes} zone={zone} zones={[...new Set([zone, ...Intl.supportedValuesOf('timeZone')])]} /></div></section>
      <section><h2>Password</h2><div className="card pad"><PasswordForm /></div></section>
    </div>
  )
}
