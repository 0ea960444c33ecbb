import { answering, numberParameter, requireToken } from '../../../server/requests'
import { incidentOut } from '../../../server/representations'
import { database } from '@/store/database'
import { listIncidents } from '@/store/incidents'
import { requireCheck } from '@/store/checks'

export const dynamic = 'force-dynamic'

export const GET = answering(async (request) => {
  await requireToken(request, 'read')
  const url = new URL(request.url)
  const open = url.searchParams.get('open')
  const key = url.searchParams.get('check')
  const found = await listIncidents(database(), {
    limit: numberParameter(url, 'limit', 100, 1, 1000),
    ...(open === null ? {} : { open: open !== 'false' }),
    ...(key === null ? {} : { check: (await requireCheck(database(), key)).id })
  })
  return Response.json({ incidents: found.map((each) => incidentOut(each)) })
})
