import { answering } from '../../server/requests'
import { exportFile } from '../../server/export'
import { personOfRequest } from '../../server/session'
import { HemeronError } from '@/core/problems'
import { listChecks } from '@/store/checks'
import { database } from '@/store/database'
import { listServices } from '@/store/world'

export const dynamic = 'force-dynamic'

/** The chosen checks as a file, for someone who is signed in. */
export const GET = answering(async (request) => {
  if (!(await personOfRequest())) throw new HemeronError('not-signed-in')
  const url = new URL(request.url)
  const keys = new Set((url.searchParams.get('keys') ?? '').split(',').filter((key) => key !== ''))
  const checks = (await listChecks(database())).filter((stored) => keys.size === 0 || keys.has(stored.check.key))
  return exportFile(url.searchParams.get('as') ?? 'yaml', checks, await listServices(database()))
})
