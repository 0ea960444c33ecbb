import { randomBytes, randomUUID } from 'node:crypto'
import { hash } from '@node-rs/argon2'
import { freeKey, keyFromName } from '../core/definitions/key'
import { welcomeMessage } from '../core/messages/message'
import { HemeronError } from '../core/problems'
import { DAY, type Instant } from '../core/units'
import { change, row, transaction, type Pool, type Queryable } from './database'
import { sendCode } from './channel-codes'
import { addChannel, queueDeliveries } from './deliveries'
import { addPerson, audit, hashToken, HASHING, listPeople, ROLES, type Person } from './people'
import { readSettings } from './settings'

const COUNTS_FOR = 3 * DAY

/**
 * Adds a person and invites them by mail. Gives the link as well, for a workspace that sends no mail yet. A contact only
 * receives: they confirm their address by a link, and there is no invitation. Throws bad-document.
 */
export async function invite(pool: Pool, given: Pick<Person, 'name' | 'mail' | 'job' | 'role'>, by: Person, now: Instant): Promise<string> {
  const [name, mail, job] = [given.name.trim(), given.mail.trim().toLowerCase(), given.job.trim()]
  const people = await listPeople(pool)
  const problems = [
    ...(name === '' || name.length > 200 ? [{ path: 'name', found: `"${name.slice(0, 50)}"`, expected: 'a name of 1 to 200 characters' }] : []),
    ...(/^[^@\s]+@[^@\s]+$/.test(mail) && mail.length <= 200 ? [] : [{ path: 'mail', found: `"${mail.slice(0, 80)}"`, expected: 'a mail address' }]),
    ...(people.some((each) => each.mail === mail) ? [{ path: 'mail', found: mail, expected: 'an address nobody here has yet' }] : []),
    ...(job.length > 200 ? [{ path: 'job', found: `${job.length} characters`, expected: 'at most 200 characters' }] : []),
    ...(ROLES.includes(given.role) ? [] : [{ path: 'role', found: String(given.role), expected: ROLES.join(', ') }])
  ]
  if (problems.length > 0) throw new HemeronError('bad-document', undefined, problems)
  const settings = await readSettings(pool)
  const token = randomBytes(24).toString('base64url')
  const link = `${settings.address}/welcome/${token}`
  let contact: number | undefined
  await transaction(pool, async (on) => {
    const key = freeKey(keyFromName(name, 'person'), (each) => people.some((other) => other.key === each))
    const id = await addPerson(on, { key, name, mail, job, role: given.role }, undefined, now)
    const channel = await addChannel(on, { key: `mail-${key}`, name: `${name} by mail`, kind: 'mail', person: id, config: { to: mail } }, false)
    if (given.role === 'contact') return void (contact = channel)
    await change(on, 'INSERT INTO invitation (token_hash, person_id, expires_at) VALUES (?, ?, ?)', [hashToken(token), id, now + COUNTS_FOR])
    await queueDeliveries(on, [{ key: `welcome/${channel}/${randomUUID()}`, channel, person: id, cause: `Invited by ${by.name}` }], 'welcome', welcomeMessage(by.name, settings.name, link), null, now)
    await audit(on, by.id, 'person invited', key, undefined, { name, mail, role: given.role }, now)
  })
  if (contact === undefined) return link
  await sendCode(pool, contact, now)
  return ''
}

/** The person an invitation is for, while it counts. */
export async function invited(on: Queryable, token: string, now: Instant): Promise<{ id: number; name: string; mail: string } | undefined> {
  return row(on, 'SELECT p.id, p.name, p.mail FROM invitation i JOIN person p ON p.id = i.person_id WHERE i.token_hash = ? AND i.expires_at > ?', [hashToken(token), now])
}

/** Uses an invitation: the person has a password from here, and their mail address is theirs. Throws wrong-state or bad-document. */
export async function acceptInvitation(pool: Pool, token: string, password: string, now: Instant): Promise<number> {
  if (password.length < 10 || password.length > 200) throw new HemeronError('bad-document', undefined, [{ path: 'password', found: `${password.length} characters`, expected: '10 to 200 characters' }])
  const hashed = await hash(password, HASHING)
  return transaction(pool, async (on) => {
    const person = await invited(on, token, now)
    const { affectedRows } = await change(on, 'DELETE FROM invitation WHERE token_hash = ?', [hashToken(token)])
    if (!person || affectedRows === 0) throw new HemeronError('wrong-state', 'This invitation does not count any more. Ask for another one.')
    await change(on, 'UPDATE person SET password_hash = ? WHERE id = ?', [hashed, person.id])
    await change(on, "UPDATE channel SET confirmed_at = ? WHERE person_id = ? AND kind = 'mail' AND JSON_VALUE(config, '$.to') = ?", [now, person.id, person.mail])
    await change(on, "UPDATE counter SET value = value + 1 WHERE name = 'definitions'")
    await audit(on, person.id, 'invitation accepted', String(person.id), undefined, undefined, now)
    return person.id
  })
}
