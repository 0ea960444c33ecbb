import { answering, readBody, requireProbe } from '../../../server/requests'
import { HemeronError } from '@/core/problems'
import { database } from '@/store/database'
import { storeHealth, type ProbeHealth } from '@/store/probes'

export const dynamic = 'force-dynamic'

const isCount = (value: unknown): value is number => typeof value === 'number' && Number.isFinite(value) && Math.abs(value) < 2e9

/** Takes what a probe says of itself, and tells it the server's time, by which it finds how far its own clock is off. */
export const POST = answering(async (request) => {
  const probe = await requireProbe(request)
  const { clockOffset, backlog, lateness, checks, lines } = (await readBody(request)) as Partial<ProbeHealth>
  const fits = (clockOffset === null || isCount(clockOffset)) && isCount(backlog) && isCount(lateness) && isCount(checks) && Array.isArray(lines) && lines.every((line) => isCount(line?.location) && (line.cutSince === null || typeof line.cutSince === 'number'))
  if (!fits) throw new HemeronError('bad-request', 'Expected clockOffset, backlog, lateness, checks and lines.')
  const now = Date.now()
  await storeHealth(database(), probe, { clockOffset: clockOffset === null ? null : Math.round(clockOffset), backlog: Math.max(0, Math.round(backlog)), lateness: Math.max(0, Math.round(lateness)), checks, lines }, now)
  return Response.json({ now })
})
