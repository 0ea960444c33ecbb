import { cache } from 'react'
import { listChecks, type StoredCheck } from '@/store/checks'
import { database } from '@/store/database'
import { definitionsNumber } from '@/store/locations'

let kept: { number: number; checks: StoredCheck[] } | undefined

/** All checks, read once for each request and parsed again only when a definition has changed. */
export const allChecks = cache(async (): Promise<StoredCheck[]> => {
  const number = await definitionsNumber(database())
  if (kept?.number !== number) kept = { number, checks: await listChecks(database()) }
  return kept.checks
})
