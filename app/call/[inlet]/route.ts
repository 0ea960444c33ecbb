import { toldCheck } from '../../server/inlet'
import { answering, readText } from '../../server/requests'
import { readCall } from '@/core/calls/read-call'
import { HemeronError } from '@/core/problems'
import { database } from '@/store/database'
import { putCall } from '@/store/inbox'

export const dynamic = 'force-dynamic'

/** A job calls: that it begins (`?event=begin`), or that it has ended (`?exit=0`), with the end of its output as the body. */
const take = answering<{ params: Promise<{ inlet: string }> }>(async (request, { params }) => {
  const stored = await toldCheck((await params).inlet, 'calls')
  const read = readCall(new URL(request.url).searchParams, request.method === 'POST' ? await readText(request) : '', request.headers.get('content-type') ?? '')
  if ('problems' in read) throw new HemeronError('bad-document', undefined, read.problems)
  await putCall(database(), stored.id, { at: Date.now(), ...read.call })
  return new Response(`${stored.check.key}: ${read.call.event === 'begin' ? 'begins' : `ended with ${read.call.exit}`}\n`, { headers: { 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'no-store' } })
})

export const GET = take
export const POST = take
