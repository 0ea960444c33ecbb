import { answering } from '../../../server/requests'
import { settings } from '../../../server/session'
import { HemeronError } from '@/core/problems'
import { readSignedName } from '@/core/inside/signed-name'
import { writeShifts } from '@/core/rotas/rota-calendar'
import { database } from '@/store/database'
import { readRoutingWorld } from '@/store/routing'

export const dynamic = 'force-dynamic'

/** Shifts as iCalendar, for calendars that ask again and again. The address is the only key to them. */
export const GET = answering<{ params: Promise<{ name: string }> }>(async (_request, { params }) => {
  const what = readSignedName((await params).name.replace(/\.ics$/, ''), (await settings()).linkKey)
  const { rotas, listening } = await readRoutingWorld(database())
  const { kind, subject: key } = what ?? {}
  const shown = kind === 'rota' ? rotas.filter((rota) => rota.key === key) : kind === 'person' && listening.people.some((person) => person.key === key) ? rotas : []
  if (kind === undefined || kind === 'board' || (kind === 'rota' && shown.length === 0)) throw new HemeronError('not-found', 'There is no such calendar.')
  const names = new Map(listening.people.map((person) => [person.key, person.name]))
  return new Response(writeShifts(shown, names, Date.now(), kind === 'person' ? key : undefined), { headers: { 'content-type': 'text/calendar; charset=utf-8', 'cache-control': 'private, max-age=300' } })
})
