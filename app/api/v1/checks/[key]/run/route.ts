import { answering, readBody, requireToken } from '../../../../../server/requests'
import { observationOut } from '../../../../../server/representations'
import { readRunVariables, tryToTheEnd } from '../../../../../server/try'
import { askForRuns, requireCheck } from '@/store/checks'
import { database } from '@/store/database'
import { HemeronError } from '@/core/problems'

export const dynamic = 'force-dynamic'

/**
 * Runs the check now at every location. With `{ "variables": … }` it runs once with those values, waits for the answers
 * and gives them; such a run is not recorded with the check.
 */
export const POST = answering<{ params: Promise<{ key: string }> }>(async (request, { params }) => {
  await requireToken(request, 'respond')
  const stored = await requireCheck(database(), (await params).key)
  const variables = readRunVariables((await readBody(request)).variables)
  if (variables) {
    const answers = await tryToTheEnd({ document: stored.document, check: stored.id, variables }, request.signal)
    return Response.json({ observations: answers.map(({ location, observation }) => observationOut(observation, location.key)) })
  }
  if (stored.pausedAt !== null) throw new HemeronError('wrong-state', 'The check is paused.')
  return Response.json({ locations: await askForRuns(database(), stored.id, stored.check, Date.now()) }, { status: 202 })
})
