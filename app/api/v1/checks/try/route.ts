import { answering, readJson, requireToken } from '../../../../server/requests'
import { observationOut } from '../../../../server/representations'
import { tryCheck } from '../../../../server/try'
import { acceptCheck } from '@/store/checks'
import { database } from '@/store/database'

export const dynamic = 'force-dynamic'

/** Runs a definition once at each of its locations without saving it. */
export const POST = answering(async (request) => {
  await requireToken(request, 'respond')
  const { check } = await acceptCheck(database(), await readJson(request))
  const answers = await tryCheck(check, request.signal)
  return Response.json({ observations: answers.map(({ location, observation }) => observationOut(observation, location.key)) })
})
