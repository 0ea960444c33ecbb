import { createHash } from 'node:crypto'
import { signRequest } from '../core/messages/signature'
import { fillTemplate } from '../core/messages/template'
import { post } from './post'
import type { Sender } from './sender'

/**
 * Posts the message as JSON, or the channel's own words filled in, signed as HTTP Message Signatures say (RFC 9421,
 * hmac-sha256) over method, address and Content-Digest (RFC 9530). `Idempotency-Key` is the same for every try.
 */
export const sendWebhook: Sender = async (message, config, { stepKey, createdAt }) => {
  const url = String(config.url)
  const body = typeof config.words === 'string' ? fillTemplate(config.words, message, 'json')
    : JSON.stringify({ ...message.facts, news: message.news, subject: message.subject, text: message.lines.join('\n'), link: message.link ?? null })
  const digest = `sha-256=:${createHash('sha256').update(body).digest('base64')}:`
  const signed = signRequest({ method: 'POST', url, digest, secret: String(config.secret ?? ''), created: Math.floor(createdAt / 1000) })
  return post(url, body, { 'content-type': 'application/json', 'content-digest': digest, 'idempotency-key': `"${stepKey}"`, ...signed })
}
