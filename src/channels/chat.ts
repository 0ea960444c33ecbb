import { fillTemplate } from '../core/messages/template'
import { post } from './post'
import type { Sender } from './sender'

/**
 * Posts into a chat's incoming webhook: `{"text": …, "topic": …, "thread": …}`. Messages of one incident have the same
 * thread, so that a chat that knows threads keeps them together; the topic is the channel's own.
 */
export const sendChat: Sender = (message, config, { stepKey }) => {
  const text = typeof config.words === 'string' ? fillTemplate(config.words, message) : [message.subject, ...message.lines.slice(1), ...(message.link ? [message.link] : [])].join('\n')
  return post(String(config.url), JSON.stringify({ text, ...(config.topic ? { topic: config.topic } : {}), thread: message.thread }), { 'content-type': 'application/json', 'idempotency-key': `"${stepKey}"` })
}
