import { answering, readJson, requireToken } from '../../../../server/requests'
import { observationOut } from '../../../../server/representations'
import { tryToTheEnd } from '../../../../server/try'
import type { CheckDocument } from '@/core/definitions/check'

export const dynamic = 'force-dynamic'

/** Runs a definition once at each of its locations without saving it. */
export const POST = answering(async (request) => {
  await requireToken(request, 'respond')
  const answers = await tryToTheEnd({ document: (await readJson(request)) as CheckDocument }, request.signal)
  return Response.json({ observations: answers.map(({ location, observation }) => observationOut(observation, location.key)) })
})
