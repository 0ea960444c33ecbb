import { shortText, spokenText } from '../core/messages/short'
import { fillTemplate } from '../core/messages/template'
import { gatewayFor, readPhone } from '../core/people/phone'
import { post } from './post'
import type { SendContext, Sender } from './sender'

function carriedBy(means: 'sms' | 'voice', config: Record<string, unknown>, { settings }: SendContext) {
  const number = readPhone(String(config.number))
  if (!number) throw new Error(`${String(config.number)} is no phone number`)
  const gateway = gatewayFor(settings.gateways, means, number)
  if (!gateway) throw new Error(`no gateway carries ${means === 'sms' ? 'texts' : 'calls'} to ${number.countries.join(', ')}`)
  return { number, gateway, headers: { 'content-type': 'application/json', authorization: `Bearer ${gateway.token}` } }
}

/** Sends a text through the gateway for the number's country: `{"id", "to", "from", "text"}`. The id is the same for every try. */
export const sendSms: Sender = async (message, config, context) => {
  const { number, gateway, headers } = carriedBy('sms', config, context)
  const text = typeof config.words === 'string' ? fillTemplate(config.words, message).slice(0, 300) : shortText({ ...message, ...(message.take ? { link: message.take } : {}) })
  return post(gateway.url, JSON.stringify({ id: context.stepKey, to: number.e164, from: gateway.from, text }), headers)
}

/**
 * Has a gateway call a number and read a text: `{"id", "to", "from", "say", "answerTo"}`. What happens in the call comes
 * back to `answerTo`: a key that was pressed, or that nobody answered.
 */
export const sendVoice: Sender = async (message, config, context) => {
  const { number, gateway, headers } = carriedBy('voice', config, context)
  const say = typeof config.words === 'string' ? fillTemplate(config.words, message).slice(0, 1000) : spokenText(message, { take: message.take !== undefined })
  return post(gateway.url, JSON.stringify({ id: context.stepKey, to: number.e164, from: gateway.from, say, ...(context.answerTo ? { answerTo: context.answerTo } : {}) }), headers)
}
