import type { Pool } from '@/store/database'
import { database } from '@/store/database'
import { answering, requireToken } from './requests'

type Turn = (pool: Pool, key: string, on: boolean, person: number | null, now: number) => Promise<void>

/** The two ways of a switch on a check: PUT turns it on, DELETE ends it. */
export function checkTurn(turn: Turn) {
  const route = (on: boolean) => answering<{ params: Promise<{ key: string }> }>(async (request, { params }) => {
    const person = await requireToken(request, 'write')
    await turn(database(), (await params).key, on, person.id, Date.now())
    return new Response(null, { status: 204 })
  })
  return { PUT: route(true), DELETE: route(false) }
}
