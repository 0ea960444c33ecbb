import { parseDuration } from '@/core/definitions/duration'
import { HemeronError } from '@/core/problems'
import { database } from '@/store/database'
import { closeWindow, openWindow } from '@/store/planned'
import { answering, readBody, requireToken } from './requests'

type Context = { params: Promise<{ key: string }> }

/** A release window over the API: PUT opens it, `{ "for": "30m" }` says how long; DELETE closes it. */
export function windowRoute(place: 'check' | 'service', find: (key: string) => Promise<{ id: number; key: string }>) {
  return {
    PUT: answering<Context>(async (request, { params }) => {
      const person = await requireToken(request, 'respond')
      const { for: length } = await readBody(request)
      const lasts = length === undefined ? undefined : parseDuration(String(length))
      if (length !== undefined && !lasts) throw new HemeronError('bad-document', undefined, [{ path: 'for', found: `"${String(length).slice(0, 50)}"`, expected: 'a duration such as 30m' }])
      const now = Date.now()
      await openWindow(database(), place, await find((await params).key), lasts === undefined ? null : now + lasts, person.id, now)
      return new Response(null, { status: 204 })
    }),
    DELETE: answering<Context>(async (request, { params }) => {
      const person = await requireToken(request, 'respond')
      await closeWindow(database(), place, await find((await params).key), person.id, Date.now())
      return new Response(null, { status: 204 })
    })
  }
}
