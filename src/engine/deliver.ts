import type { Pool } from '../store/database'
import { backOff } from '../core/routing/back-off'
import { senders } from '../channels/senders'
import type { Instant } from '../core/units'
import { settleDelivery, takeDeliveries, type DueDelivery } from '../store/deliveries'
import { addEvent } from '../store/incidents'
import { note } from '../store/live'
import type { Settings } from '../store/settings'

/** A sender that has not answered after this time has failed. */
const SEND_WITHIN = 15_000
const LEASE = 20_000

/** Sends everything that is due. Each try ends as sent, as waiting for the next try, or as given up. */
export async function deliverDue(pool: Pool, settings: Settings, now: () => Instant): Promise<number> {
  const due = await takeDeliveries(pool, now(), LEASE)
  await Promise.all(due.map((delivery) => deliver(pool, delivery, settings, now)))
  return due.length
}

async function deliver(pool: Pool, delivery: DueDelivery, settings: Settings, now: () => Instant): Promise<void> {
  const started = now()
  let outcome: { sent: boolean; answer: string; againAt?: Instant }
  try {
    outcome = { sent: true, answer: await withTimeOut(senders[delivery.kind](delivery.message, delivery.config, { settings, stepKey: delivery.stepKey, createdAt: delivery.createdAt })) }
  } catch (error) {
    const wait = backOff(delivery.tries)
    outcome = { sent: false, answer: error instanceof Error ? error.message : String(error), ...(wait === undefined ? {} : { againAt: now() + wait }) }
  }
  await settleDelivery(pool, delivery.id, outcome, now())
  if (delivery.incident !== null && (outcome.sent || delivery.tries === 1 || outcome.againAt === undefined)) {
    const took = `${((now() - started) / 1000).toFixed(1)} s`
    await addEvent(pool, delivery.incident, outcome.sent
      ? { at: now(), kind: 'told', title: `Told ${delivery.channelName}`, detail: `${delivery.kind} in ${took}${delivery.tries > 1 ? `, at try ${delivery.tries}` : ''}` }
      : { at: now(), kind: 'not-told', title: `${delivery.channelName} could not be told`, detail: `${outcome.answer}${outcome.againAt === undefined ? '; given up' : '; it is tried again'}` })
  }
  await note(pool, [{ topic: 'delivery', subject: delivery.id }, ...(delivery.incident === null ? [] : [{ topic: 'incident' as const, subject: delivery.incident }])], now())
}

function withTimeOut(sending: Promise<string>): Promise<string> {
  let timer: NodeJS.Timeout
  const limit = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error(`no answer within ${SEND_WITHIN / 1000} s`)), SEND_WITHIN)
  })
  return Promise.race([sending, limit]).finally(() => clearTimeout(timer))
}
