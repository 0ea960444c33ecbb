import { answering, readBody, requireProbe } from '../../../server/requests'
import type { InsideQuestion } from '@/core/inside/inside'
import { HemeronError } from '@/core/problems'
import { database } from '@/store/database'
import { answerInside } from '@/store/inbox'
import { checkOfTry, holdsInside } from '@/store/probes'

export const dynamic = 'force-dynamic'

const isTexts = (value: unknown, most: number) => Array.isArray(value) && value.length <= most && value.every((each) => typeof each === 'string' && each.length <= 300)

/** Says what Hemeron knows by itself of a check, saved or being tried: what it was told, and how other checks are. */
export const POST = answering(async (request) => {
  const probe = await requireProbe(request)
  if (!(await holdsInside(database(), probe))) throw new HemeronError('not-allowed', 'This probe judges nothing inside.')
  const { id, try: tried, question } = (await readBody(request)) as { id?: unknown; try?: unknown; question?: InsideQuestion }
  const { calls, pushes, members } = question ?? {}
  const fits = (Number.isInteger(id) || typeof tried === 'string') && (pushes === undefined || (Number.isFinite(pushes.since) && isTexts(pushes.names, 100))) && (members === undefined || isTexts(members, 200))
  if (!fits) throw new HemeronError('bad-request', 'Expected the id of a check or of a try, and a question.')
  const check = typeof tried === 'string' ? await checkOfTry(database(), tried) : Number(id)
  return Response.json(await answerInside(database(), check, { ...(calls ? { calls } : {}), ...(pushes ? { pushes } : {}), ...(members ? { members } : {}) }, Date.now()))
})
