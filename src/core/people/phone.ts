import { parsePhoneNumberFromString } from 'libphonenumber-js'

export interface PhoneNumber {
  /** As ITU-T E.164 writes it: `+447700900123`. */
  e164: string
  /** ISO 3166 codes of the countries it can belong to; numbers that share a calling code have several. */
  countries: string[]
}

/** Reads a phone number with its country's calling code; undefined for what is none. */
export function readPhone(text: string): PhoneNumber | undefined {
  const found = /^\s*(\+|00)/.test(text) ? parsePhoneNumberFromString(text.trim().replace(/^00/, '+')) : undefined
  return found?.isPossible() ? { e164: found.number, countries: found.country ? [found.country] : found.getPossibleCountries() } : undefined
}

/** A service that carries texts or calls into some countries. */
export interface Gateway {
  name: string
  means: 'sms' | 'voice'
  url: string
  token: string
  /** What the receiver sees as the sender. */
  from: string
  /** ISO 3166 codes; for every country that no other gateway serves when there are none. */
  countries: string[]
}

/** The gateway for a number: one that names its country before one that serves all the others. */
export function gatewayFor(gateways: readonly Gateway[], means: Gateway['means'], { countries }: PhoneNumber): Gateway | undefined {
  const own = gateways.filter((each) => each.means === means)
  return own.find((each) => each.countries.some((country) => countries.includes(country))) ?? own.find((each) => each.countries.length === 0)
}
