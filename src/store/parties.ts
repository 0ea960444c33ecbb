import { partyProblems, type PartyDocument } from '../core/parties/read-party'
import type { Party } from '../core/parties/parties'
import { HemeronError } from '../core/problems'
import type { Instant } from '../core/units'
import { change, fromJson, rows, type Pool, type Queryable } from './database'
import { audit } from './people'

export async function listParties(on: Queryable): Promise<Party[]> {
  return (await rows<{ document: unknown }>(on, 'SELECT document FROM party ORDER BY party_key')).map(({ document }) => {
    const { party, ...rest } = fromJson<PartyDocument>(document)
    return { hosts: [], ranges: [], networks: [], ...rest, key: party }
  })
}

/** Adds or changes a party. Throws bad-document. */
export async function putParty(pool: Pool, document: unknown, by: number | null, now: Instant): Promise<void> {
  const problems = partyProblems(document)
  if (problems.length > 0) throw new HemeronError('bad-document', undefined, problems)
  const { party } = document as PartyDocument
  await change(pool, 'INSERT INTO party (party_key, document, changed_at) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE document = VALUES(document), version = version + 1, changed_at = VALUES(changed_at)', [party, JSON.stringify(document), now])
  await audit(pool, by, 'party', party, undefined, document, now)
}

/** Takes a party away. Throws not-found. */
export async function removeParty(pool: Pool, key: string, by: number | null, now: Instant): Promise<void> {
  const { affectedRows } = await change(pool, 'DELETE FROM party WHERE party_key = ?', [key])
  if (affectedRows === 0) throw new HemeronError('not-found', `There is no party ${key.slice(0, 100)}.`)
  await audit(pool, by, 'party removed', key, undefined, undefined, now)
}
