import { keyFromName } from '../definitions/key'
import type { Offer } from './offer'

/** A sequence made of recorded requests, and the values typed into them that must not stand in a definition. */
export interface RecordedSequence {
  document: Record<string, unknown>
  /** By name, as they stand in the requests. */
  secrets: Record<string, string>
}

/** The most requests a sequence has. */
export const SEQUENCE_MOST = 30

const SECRET_NAMES = /pass(?:wor[dt]|wd|phrase|code)?$|pwd|secret|token|api[-_.]?key|(?:^|[-_.])(?:pin|otp|tan|cvc|cvv)$|credential/i

interface Http { url: string; method?: string; headers?: Record<string, string>; body?: string }

/**
 * Makes one sequence of recorded requests, in their order. What was typed into fields that are called like a password, a
 * token or a key becomes a secret of the check: the definition then holds its name in its place.
 */
export function sequenceOf(offers: readonly Offer[]): RecordedSequence {
  const names = new Map<string, string>()
  const hide = (field: string, value: string): string => {
    // user[password] and user.password are both a password
    const own = field.replace(/\]$/, '').replace(/^.*[[.]/, '')
    if (value === '' || !SECRET_NAMES.test(own)) return value
    const known = names.get(value)
    if (known !== undefined) return `\${${known}}`
    const wished = own.replace(/[^A-Za-z0-9]+/g, '_').replace(/^_+|_+$/g, '').replace(/^(?=\d)/, '_').toUpperCase().slice(0, 50) || 'SECRET'
    const taken = new Set(names.values())
    let name = wished
    for (let number = 2; taken.has(name); number += 1) name = `${wished}_${number}`
    names.set(value, name)
    return `\${${name}}`
  }
  const steps = offers.slice(0, SEQUENCE_MOST).map(({ document }) => {
    const { url, method, headers, body } = document.http as Http
    return {
      name: String(document.name), url: hideQuery(url, hide), ...(method === undefined ? {} : { method }),
      ...(headers === undefined ? {} : { headers: Object.fromEntries(Object.entries(headers).map(([name, value]) => [name, hide(name, value)])) }),
      ...(body === undefined ? {} : { body: hideBody(body, headers?.['content-type'] ?? '', hide) }), pass: document.pass
    }
  })
  const host = steps.length > 0 ? new URL(String((offers[0]!.document.http as Http).url)).host : 'nowhere'
  const name = `A visit to ${host}`
  // the value of a secret is put in place as it is, and so it is kept as it was sent
  const secrets = Object.fromEntries([...names].map(([value, secret]) => [secret, value.replaceAll('$${', () => '${')]))
  return { document: { check: keyFromName(name), name, ...(names.size > 0 ? { secrets: [...names.values()] } : {}), sequence: { steps } }, secrets }
}

type Hide = (field: string, value: string) => string

function hideQuery(url: string, hide: Hide): string {
  const at = url.indexOf('?')
  return at < 0 ? url : `${url.slice(0, at + 1)}${hidePairs(url.slice(at + 1), hide)}`
}

/** Values stay encoded as they were sent: they are put back letter by letter. */
const hidePairs = (pairs: string, hide: Hide): string => pairs.split('&').map((pair) => {
  const at = pair.indexOf('=')
  return at < 0 ? pair : `${pair.slice(0, at + 1)}${hide(decoded(pair.slice(0, at)), pair.slice(at + 1))}`
}).join('&')

function decoded(text: string): string {
  try {
    return decodeURIComponent(text.replaceAll('+', ' '))
  } catch {
    return text
  }
}

function hideBody(body: string, type: string, hide: Hide): string {
  if (/json/i.test(type) || /^\s*[[{]/.test(body)) return body.replace(/"((?:[^"\\]|\\.)*)"(\s*:\s*)"((?:[^"\\]|\\.)*)"/g, (_, field: string, between: string, value: string) => `"${field}"${between}"${hide(field, value)}"`)
  if (/multipart/i.test(type)) return body.replace(/(name="([^"]*)"\r?\n(?:[^\r\n]+\r?\n)*\r?\n)([^\r\n]*)/g, (_, head: string, field: string, value: string) => `${head}${hide(field, value)}`)
  return /^[^=\s&]+=[^\s]*$/.test(body.trim()) ? hidePairs(body, hide) : body
}
