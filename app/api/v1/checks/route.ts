import { answering, readJson, requireToken } from '../../../server/requests'
import { checkOut } from '../../../server/representations'
import { listChecks } from '@/store/checks'
import { addCheck } from '@/store/define-one'
import { database } from '@/store/database'
import { listStates } from '@/store/states'

export const dynamic = 'force-dynamic'

export const GET = answering(async (request) => {
  await requireToken(request, 'read')
  const url = new URL(request.url)
  const [service, state] = [url.searchParams.get('service'), url.searchParams.get('state')]
  const states = await listStates(database())
  const found = (await listChecks(database()))
    .filter((stored) => service === null || stored.check.service === service)
    .filter((stored) => state === null || states.get(stored.id)?.state === state)
  return Response.json({ checks: found.map((stored) => checkOut(stored, states.get(stored.id))) })
})

export const POST = answering(async (request) => {
  const person = await requireToken(request, 'write')
  const stored = await addCheck(database(), await readJson(request), person.id, Date.now())
  const states = await listStates(database(), [stored.id])
  return Response.json(checkOut(stored, states.get(stored.id)), {
    status: 201, headers: { location: `/api/v1/checks/${stored.check.key}`, etag: `"${stored.version}"` }
  })
})
