import type { Message } from '../core/messages/message'
import type { Gateway } from '../core/people/phone'
import type { Instant } from '../core/units'

/** What a sender may know besides the message. */
export interface SendContext {
  settings: {
    mail: { host: string; port: number; secure: boolean; user: string; password: string; from: string }
    push: { publicKey: string; privateKey: string }
    gateways: Gateway[]
  }
  /** The same for every try of a message: receivers that know it drop repeats. */
  stepKey: string
  createdAt: Instant
  /** Where a gateway tells what happens in a call. */
  answerTo?: string
}

/** Sends a message to the place in `config`. Resolves with the receiver's answer; rejects when it was not taken. */
export type Sender = (message: Message, config: Record<string, unknown>, context: SendContext) => Promise<string>
