import { createHash } from 'node:crypto'
import webpush from 'web-push'
import type { Sender } from './sender'

/**
 * Sends by Web Push (RFC 8030), encrypted for the device alone (RFC 8291) and signed with the workspace's own key
 * (RFC 8292). The topic lets the push service replace an older message of the same incident that was not read yet.
 */
export const sendPush: Sender = async (message, config, { settings, stepKey }) => {
  const { publicKey, privateKey } = settings.push
  if (publicKey === '') throw new Error('there is no key pair for push yet')
  const payload = JSON.stringify({ title: message.subject, body: message.lines.slice(0, 4).join('\n'), link: message.take ?? message.link ?? null, urgent: message.urgent, key: stepKey })
  const { endpoint, p256dh, auth } = config as { endpoint: string; p256dh: string; auth: string }
  const request = webpush.generateRequestDetails({ endpoint, keys: { p256dh, auth } }, payload, {
    TTL: 86_400, urgency: message.urgent ? 'high' : 'normal', topic: createHash('sha256').update(stepKey).digest('base64url').slice(0, 32),
    vapidDetails: { subject: `mailto:${settings.mail.from.replace(/^.*<|>$/g, '')}`, publicKey, privateKey }
  })
  const response = await fetch(endpoint, {
    method: 'POST', body: new Uint8Array(request.body ?? Buffer.alloc(0)), headers: request.headers as unknown as Record<string, string>, signal: AbortSignal.timeout(12_000)
  }).catch((error: unknown) => {
    throw new Error(`the push service cannot be reached: ${(error as { cause?: Error }).cause?.message ?? (error as Error).message}`)
  })
  if (!response.ok) throw new Error(`the push service answers ${response.status} ${(await response.text()).slice(0, 200)}`)
  return String(response.status)
}
