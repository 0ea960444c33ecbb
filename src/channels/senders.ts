import { sendMail } from './mail'
import { sendPush } from './push'
import type { Sender } from './sender'
import { sendWebhook } from './webhook'

/** Every kind of channel, by its name in the store. */
export const senders: Record<'mail' | 'webhook' | 'push', Sender> = { mail: sendMail, webhook: sendWebhook, push: sendPush }
