import type { Pool } from '../store/database'
import { takeToken, TAKE_FOR } from '../core/messages/take-link'
import type { Message } from '../core/messages/message'
import { backOff, triesBeforeStandIn } from '../core/routing/back-off'
import { speakTime } from '../core/time/zoned'
import { senders } from '../channels/senders'
import type { Instant } from '../core/units'
import { limitReached, replaceBy, standInFor, type Limit } from '../store/delivering'
import { putOff, settleDelivery, takeDeliveries, type DueDelivery } from '../store/deliveries'
import { addEvent } from '../store/incidents'
import { note } from '../store/live'
import type { Settings } from '../store/settings'

/** A sender that has not answered after this time has failed. */
const SEND_WITHIN = 15_000
const LEASE = 20_000

/** Sends everything that is due. Each try ends as sent, as waiting for the next try, as handed to another channel, or as given up. */
export async function deliverDue(pool: Pool, settings: Settings, now: () => Instant): Promise<number> {
  const due = await takeDeliveries(pool, now(), LEASE)
  const begun = new Map<number, number>()
  const free: DueDelivery[] = []
  for (const delivery of due) {
    const limit = delivery.config.limit as Limit | undefined
    const before = begun.get(delivery.channel) ?? 0
    const until = limit && (await limitReached(pool, delivery.channel, { ...limit, most: Math.max(1, limit.most - before) }, now()))
    if (until !== undefined) await holdBack(pool, delivery, limit!, until, settings.zone, now())
    else {
      free.push(delivery)
      begun.set(delivery.channel, before + 1)
    }
  }
  await Promise.all(free.map((delivery) => deliver(pool, delivery, settings, now)))
  return due.length
}

/** A channel that has sent enough for now: what is urgent goes another way, the rest waits. */
async function holdBack(pool: Pool, delivery: DueDelivery, { most, minutes }: Limit, until: Instant, zone: string, now: Instant): Promise<void> {
  const why = `${delivery.channelName} sends at most ${most} in ${minutes} min`
  if (delivery.message.urgent && (await handOver(pool, delivery, why, now))) return
  await putOff(pool, delivery.id, until, `${why}; it goes out at ${speakTime(until, zone)}`)
  await note(pool, [{ topic: 'delivery', subject: delivery.id }], now)
}

async function deliver(pool: Pool, delivery: DueDelivery, settings: Settings, now: () => Instant): Promise<void> {
  const started = now()
  let outcome: { sent: boolean; answer: string; againAt?: Instant }
  try {
    outcome = { sent: true, answer: await withTimeOut(send(delivery, settings)) }
  } catch (error) {
    const wait = backOff(delivery.tries)
    outcome = { sent: false, answer: error instanceof Error ? error.message : String(error), ...(wait === undefined ? {} : { againAt: now() + wait }) }
  }
  const isHopeless = !outcome.sent && (delivery.tries >= triesBeforeStandIn(delivery.message.urgent) || outcome.againAt === undefined)
  if (isHopeless && (await handOver(pool, delivery, outcome.answer, now()))) return
  await settleDelivery(pool, delivery.id, outcome, now())
  if (delivery.incident !== null && (outcome.sent || delivery.tries === 1 || outcome.againAt === undefined)) {
    const took = `${((now() - started) / 1000).toFixed(1)} s`
    await addEvent(pool, delivery.incident, outcome.sent
      ? { at: now(), kind: 'told', title: `Told ${delivery.channelName}`, detail: `${delivery.kind} in ${took}${delivery.tries > 1 ? `, at try ${delivery.tries}` : ''}` }
      : { at: now(), kind: 'not-told', title: `${delivery.channelName} could not be told`, detail: `${outcome.answer}${outcome.againAt === undefined ? '; given up' : '; it is tried again'}` })
  }
  await note(pool, [{ topic: 'delivery', subject: delivery.id }, ...(delivery.incident === null ? [] : [{ topic: 'incident' as const, subject: delivery.incident }])], now())
}

/** Hands a message over to the channel that stands in for its own, and says so. Gives false when there is none. */
export async function handOver(pool: Pool, delivery: DueDelivery, why: string, now: Instant): Promise<boolean> {
  const other = await standInFor(pool, delivery)
  if (!other || !(await replaceBy(pool, delivery, other, why, now))) return false
  if (delivery.incident !== null) await addEvent(pool, delivery.incident, { at: now, kind: 'not-told', title: `${other.name} stands in for ${delivery.channelName}`, detail: why })
  await note(pool, [{ topic: 'delivery', subject: delivery.id }, ...(delivery.incident === null ? [] : [{ topic: 'incident' as const, subject: delivery.incident }])], now)
  return true
}

/** A message that tells a person of trouble says where they can take it. */
function send(delivery: DueDelivery, settings: Settings): Promise<string> {
  const { address, linkKey } = settings
  const canTake = delivery.person !== null && delivery.incident !== null && (delivery.news === 'down' || delivery.news === 'slow') && address !== '' && linkKey !== ''
  const token = takeToken(delivery.id, delivery.createdAt + TAKE_FOR, linkKey)
  const message: Message = canTake ? { ...delivery.message, take: `${address}/take/${token}` } : delivery.message
  return senders[delivery.kind](message, delivery.config, {
    settings, stepKey: delivery.stepKey, createdAt: delivery.createdAt, ...(delivery.kind === 'voice' && address !== '' && linkKey !== '' ? { answerTo: `${address}/api/calls/${token}` } : {})
  })
}

function withTimeOut(sending: Promise<string>): Promise<string> {
  let timer: NodeJS.Timeout
  const limit = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error(`no answer within ${SEND_WITHIN / 1000} s`)), SEND_WITHIN)
  })
  return Promise.race([sending, limit]).finally(() => clearTimeout(timer))
}
