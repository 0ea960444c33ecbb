import Link from 'next/link'
import { database } from '@/store/database'
import { invited } from '@/store/invitations'
import { Welcome } from '@/ui/forms/entry'

export const metadata = { title: 'Welcome' }

/** Where an invitation leads. */
export default async function Page({ params }: { params: Promise<{ token: string }> }) {
  const { token } = await params
  const person = await invited(database(), token, Date.now())
  if (!person) return <main className="card take"><h1>This invitation does not count any more.</h1><p>Ask for another one, or <Link href="/sign-in">sign in</Link>.</p></main>
  return <Welcome token={token} name={person.name} mail={person.mail} />
}
