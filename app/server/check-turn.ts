import { HemeronError } from '@/core/problems'
import { haltChecks, resumeChecks, type HaltWish } from '@/store/checks'
import { database } from '@/store/database'
import { answering, readBody, requireToken } from './requests'

type Context = { params: Promise<{ key: string }> }

/** The two ways of a switch on a check: PUT turns it on, with an end and a reason where they are given; DELETE ends it. */
export function checkTurn(kind: 'pause' | 'mute') {
  return {
    PUT: answering<Context>(async (request, { params }) => {
      const person = await requireToken(request, 'write')
      await haltChecks(database(), kind, [(await params).key], readWish(await readBody(request)), person.id, Date.now())
      return new Response(null, { status: 204 })
    }),
    DELETE: answering<Context>(async (request, { params }) => {
      const person = await requireToken(request, 'write')
      await resumeChecks(database(), kind, [(await params).key], person.id, Date.now())
      return new Response(null, { status: 204 })
    })
  }
}

function readWish({ until, reason }: Record<string, unknown>): HaltWish {
  const at = until === undefined ? undefined : Date.parse(String(until))
  if (Number.isNaN(at)) throw new HemeronError('bad-document', undefined, [{ path: 'until', found: `"${String(until).slice(0, 50)}"`, expected: 'a time such as 2026-11-23T14:00:00Z' }])
  return { ...(at === undefined ? {} : { until: at }), ...(reason === undefined ? {} : { reason: String(reason) }) }
}
