import { answering, readBody, requireToken } from '../../../../../server/requests'
import { observationOut } from '../../../../../server/representations'
import { readRunVariables, tryToTheEnd } from '../../../../../server/try'
import { askForRuns, listChecks } from '@/store/checks'
import { database } from '@/store/database'
import { requireService } from '@/store/define-one'

export const dynamic = 'force-dynamic'

/**
 * Runs every check of the service now. With `{ "variables": … }` each runs once with those values, without being
 * recorded, and the answers are given.
 */
export const POST = answering<{ params: Promise<{ key: string }> }>(async (request, { params }) => {
  await requireToken(request, 'respond')
  const service = await requireService(database(), (await params).key)
  const variables = readRunVariables((await readBody(request)).variables)
  const checks = (await listChecks(database())).filter((stored) => stored.serviceId === service.id && stored.pausedAt === null)
  if (variables) {
    const results = await Promise.all(checks.map(async (stored) => ({
      check: stored.check.key,
      observations: (await tryToTheEnd({ document: stored.document, check: stored.id, variables }, request.signal)).map(({ location, observation }) => observationOut(observation, location.key))
    })))
    return Response.json({ results })
  }
  for (const stored of checks) await askForRuns(database(), stored.id, stored.check, Date.now())
  return Response.json({ checks: checks.map((stored) => stored.check.key) }, { status: 202 })
})
