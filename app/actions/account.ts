'use server'

import { redirect } from 'next/navigation'
import { revalidatePath } from 'next/cache'
import { keyFromName } from '@/core/definitions/key'
import { HemeronError } from '@/core/problems'
import { database, transaction } from '@/store/database'
import { addPerson, audit, changePassword, closeSession, countPeople, openSession, setTheme, signIn as signInWith, type Person } from '@/store/people'
import { addChannel } from '@/store/deliveries'
import { confirmChannel } from '@/store/channel-codes'
import { acceptInvitation, invite } from '@/store/invitations'
import { forgetSession, keepSession, origin, sessionToken, signedIn, signedInAs } from '../server/session'
import { attempt, type Result } from './result'

export async function signIn(mail: string, password: string): Promise<Result<undefined>> {
  return attempt(async () => {
    await keepSession(await signInWith(database(), mail, password, await origin(), Date.now()))
    redirect('/')
  })
}

/** Makes the very first account, which owns the workspace. Only works while there is none. */
export async function makeFirstAccount(name: string, mail: string, password: string): Promise<Result<undefined>> {
  return attempt(async () => {
    const problems = [
      ...(name.trim().length === 0 || name.length > 200 ? [{ path: 'name', found: `${name.length} characters`, expected: 'a name of 1 to 200 characters' }] : []),
      ...(/^[^@\s]+@[^@\s]+$/.test(mail.trim()) && mail.length <= 200 ? [] : [{ path: 'mail', found: `"${mail.slice(0, 80)}"`, expected: 'a mail address' }]),
      ...(password.length >= 10 && password.length <= 200 ? [] : [{ path: 'password', found: `${password.length} characters`, expected: '10 to 200 characters' }])
    ]
    if (problems.length > 0) throw new HemeronError('bad-document', undefined, problems)
    const address = mail.trim().toLowerCase()
    const id = await transaction(database(), async (on) => {
      if (await countPeople(on) > 0) throw new HemeronError('wrong-state', 'There is an account already. Sign in.')
      const person = await addPerson(on, { key: keyFromName(name, 'owner'), name: name.trim(), mail: address, job: '', role: 'owner' }, password, Date.now())
      await addChannel(on, { key: `mail-${keyFromName(name, 'owner')}`, name: `${name.trim()} by mail`, kind: 'mail', person, config: { to: address } })
      return person
    })
    await keepSession(await openSession(database(), id, await origin(), Date.now()))
    redirect('/')
  })
}

/** Uses an invitation and signs its person in. */
export async function acceptInvite(token: string, password: string): Promise<Result<undefined>> {
  return attempt(async () => {
    const id = await acceptInvitation(database(), token, password, Date.now())
    await keepSession(await openSession(database(), id, await origin(), Date.now()))
    redirect('/')
  })
}

/** Confirms a channel by the link beside its code; whoever got it need not sign in. */
export async function confirmByLink(token: string): Promise<Result<undefined>> {
  return attempt(async () => {
    const [, channel, code] = /^(\d{1,9})\.(\d{6})$/.exec(token) ?? []
    if (!channel || !code) throw new HemeronError('not-found', 'This link is not one of ours.')
    await confirmChannel(database(), Number(channel), code, null, Date.now())
    return undefined
  })
}

/** Adds a person and invites them by mail; the answer is the link. */
export async function invitePerson(given: Pick<Person, 'name' | 'mail' | 'job' | 'role'>): Promise<Result<string>> {
  return attempt(async () => {
    const link = await invite(database(), given, await signedInAs('owner'), Date.now())
    revalidatePath('/', 'layout')
    return link
  })
}

export async function signOut(): Promise<void> {
  const token = await sessionToken()
  if (token) await closeSession(database(), token)
  await forgetSession()
  redirect('/sign-in')
}

export async function changeOwnPassword(before: string, after: string): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedIn()
    await changePassword(database(), person.id, before, after, (await sessionToken())!)
    await audit(database(), person.id, 'password changed', person.key, undefined, undefined, Date.now())
    return undefined
  })
}

export async function chooseTheme(theme: Person['theme']): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedIn()
    if (!['light', 'dark', 'auto'].includes(theme)) throw new HemeronError('bad-document', undefined, [{ path: 'theme', found: String(theme), expected: 'light, dark or auto' }])
    await setTheme(database(), person.id, theme)
    revalidatePath('/', 'layout')
    return undefined
  })
}
