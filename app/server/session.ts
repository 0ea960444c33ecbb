import { cookies, headers } from 'next/headers'
import { redirect } from 'next/navigation'
import { cache } from 'react'
import { database } from '@/store/database'
import { countPeople, personOfSession, requireRole, type Person, type Role } from '@/store/people'
import { readSettings, type Settings } from '@/store/settings'

const COOKIE = 'hemeron'

/** The settings of the workspace, read once for each request. */
export const settings = cache(async (): Promise<Settings> => readSettings(database()))

export async function sessionToken(): Promise<string | undefined> {
  return (await cookies()).get(COOKIE)?.value
}

/** The person who is signed in, or undefined. */
export const personOfRequest = cache(async (): Promise<Person | undefined> => {
  const token = await sessionToken()
  return token ? personOfSession(database(), token, Date.now()) : undefined
})

/** The person who is signed in; anyone else is led to the sign-in, or to the first account when there is none. */
export async function signedIn(): Promise<Person> {
  const person = await personOfRequest()
  if (person) return person
  redirect((await countPeople(database())) === 0 ? '/first' : '/sign-in')
}

/** The person who is signed in, with a role that reaches far enough. Throws not-allowed. */
export async function signedInAs(role: Role): Promise<Person> {
  const person = await signedIn()
  requireRole(person, role)
  return person
}

/** Keeps a session's token in a cookie that scripts cannot read. */
export async function keepSession(token: string): Promise<void> {
  const { address } = await settings()
  ;(await cookies()).set(COOKIE, token, { httpOnly: true, sameSite: 'lax', secure: address.startsWith('https:'), path: '/', maxAge: 30 * 86_400 })
}

export async function forgetSession(): Promise<void> {
  (await cookies()).delete(COOKIE)
}

/** Where a request comes from, as far as the proxies before Hemeron can be believed, and with what program. */
export async function origin(): Promise<{ address: string; agent: string }> {
  const given = await headers()
  const { proxies } = await settings()
  const chain = (given.get('x-forwarded-for') ?? '').split(',').map((each) => each.trim()).filter((each) => each !== '')
  return { address: (proxies > 0 ? chain.at(-proxies) : chain.at(-1)) ?? 'unknown', agent: given.get('user-agent') ?? '' }
}
