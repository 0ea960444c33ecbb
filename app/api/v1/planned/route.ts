import { answering, readJson, requireToken } from '../../../server/requests'
import { nextOccurrence } from '@/core/planned/recurrence'
import { database } from '@/store/database'
import { addPlanned, listPlanned } from '@/store/planned'

export const dynamic = 'force-dynamic'

const iso = (at: number) => new Date(at).toISOString()

/** Planned work and release windows, each with the time it is on or comes next. */
export const GET = answering(async (request) => {
  await requireToken(request, 'read')
  const now = Date.now()
  return Response.json({
    planned: (await listPlanned(database())).map(({ document, planned, ends }) => {
      const next = nextOccurrence(planned, now, ends)
      return { definition: document, next: next ? { from: iso(next.from), to: iso(next.to), on: next.from <= now } : null }
    })
  })
})

export const POST = answering(async (request) => {
  const person = await requireToken(request, 'write')
  const document = await readJson(request)
  await addPlanned(database(), [document], person.id, Date.now())
  return Response.json({ definition: document }, { status: 201 })
})
