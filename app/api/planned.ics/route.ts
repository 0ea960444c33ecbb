import { answering } from '../../server/requests'
import { personOfRequest } from '../../server/session'
import { writeCalendar } from '@/core/planned/icalendar'
import { HemeronError } from '@/core/problems'
import { database } from '@/store/database'
import { listPlanned } from '@/store/planned'

export const dynamic = 'force-dynamic'

/** Planned work as iCalendar, for someone who is signed in. */
export const GET = answering(async () => {
  if (!(await personOfRequest())) throw new HemeronError('not-signed-in')
  return new Response(writeCalendar((await listPlanned(database())).map((each) => each.planned), Date.now()), {
    headers: { 'content-type': 'text/calendar; charset=utf-8', 'content-disposition': 'attachment; filename="hemeron-planned.ics"' }
  })
})
