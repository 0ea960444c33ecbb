import { createHash } from 'node:crypto'
import nodemailer from 'nodemailer'
import type { Message } from '../core/messages/message'
import { fillTemplate } from '../core/messages/template'
import type { Sender } from './sender'

/**
 * Sends by SMTP (RFC 5321). The Message-ID is made from the step, so a repeat after a crash is the same message to
 * every server that looks, and messages of one incident are one thread (References, RFC 5322 section 3.6.4).
 */
export const sendMail: Sender = async (message, config, { settings, stepKey }) => {
  const { host, port, secure, user, password, from } = settings.mail
  if (host === '') throw new Error('no mail server is set up in the settings')
  const domain = from.split('@')[1]?.replace(/>$/, '') ?? 'localhost'
  const transport = nodemailer.createTransport({
    host, port, secure, ...(user === '' ? {} : { auth: { user, pass: password } }), connectionTimeout: 8000, greetingTimeout: 8000, socketTimeout: 12_000, disableFileAccess: true, disableUrlAccess: true
  })
  try {
    const sent = await transport.sendMail({
      from, to: String(config.to), subject: message.subject, ...(typeof config.words === 'string' ? { text: fillTemplate(config.words, message) } : { text: plain(message), html: html(message) }),
      messageId: `<${createHash('sha256').update(stepKey).digest('hex').slice(0, 32)}@${domain}>`,
      references: `<${message.thread}@${domain}>`,
      ...(message.urgent ? { priority: 'high' as const } : {})
    })
    return String(sent.response)
  } finally {
    transport.close()
  }
}

function plain(message: Message): string {
  return [...message.lines, ...(message.take ? ['', `Take it: ${message.take}`] : []), ...(message.link ? ['', message.link] : [])].join('\n')
}

function html(message: Message): string {
  const escape = (text: string) => text.replace(/[&<>"]/g, (character) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[character]!)
  const take = message.take ? `<p><a href="${escape(message.take)}" style="display:inline-block;padding:8px 14px;border-radius:6px;background:#17566b;color:#fff;text-decoration:none">Take it</a></p>` : ''
  const lines = message.lines.map((line) => `<p style="margin:0 0 8px">${escape(line)}</p>`).join('')
  const link = message.link ? `<p><a href="${escape(message.link)}">Open it in Hemeron</a></p>` : ''
  return `<div style="font-family:sans-serif;font-size:15px;color:#1d2b33">${lines}${take}${link}</div>`
}
