import type { Means } from '../core/routing/means'
import { sendChat } from './chat'
import { sendMail } from './mail'
import { sendSms, sendVoice } from './phone'
import { sendPush } from './push'
import type { Sender } from './sender'
import { sendWebhook } from './webhook'

/** Every kind of channel, by its name in the store. */
export const senders: Record<Means, Sender> = { push: sendPush, mail: sendMail, sms: sendSms, voice: sendVoice, chat: sendChat, webhook: sendWebhook }
