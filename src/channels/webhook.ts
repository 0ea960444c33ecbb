import { createHash } from 'node:crypto'
import { signRequest } from '../core/messages/signature'
import type { Sender } from './sender'

/**
 * Posts the message as JSON, signed as HTTP Message Signatures say (RFC 9421, hmac-sha256) over method, address and
 * Content-Digest (RFC 9530). `Idempotency-Key` is the same for every try.
 */
export const sendWebhook: Sender = async (message, config, { stepKey, createdAt }) => {
  const url = String(config.url)
  const body = JSON.stringify({ ...message.facts, news: message.news, subject: message.subject, text: message.lines.join('\n'), link: message.link ?? null })
  const digest = `sha-256=:${createHash('sha256').update(body).digest('base64')}:`
  const signed = signRequest({ method: 'POST', url, digest, secret: String(config.secret ?? ''), created: Math.floor(createdAt / 1000) })
  const response = await fetch(url, {
    method: 'POST', body, redirect: 'error', signal: AbortSignal.timeout(12_000),
    headers: { 'content-type': 'application/json', 'content-digest': digest, 'idempotency-key': `"${stepKey}"`, 'user-agent': 'Hemeron/0.1', ...signed }
  }).catch((error: unknown) => {
    throw new Error(`${new URL(url).host} cannot be reached: ${(error as { cause?: Error }).cause?.message ?? (error as Error).message}`)
  })
  const answer = (await response.text()).slice(0, 200)
  if (!response.ok) throw new Error(`${new URL(url).host} answers ${response.status} ${answer}`)
  return `${response.status} ${answer}`.trim()
}
