import { keyFromName } from '../definitions/key'
import type { Problem } from '../problems'
import { fileProblem, OFFERS_MOST, type FileRead, type Offer } from './offer'

interface HarEntry {
  request?: { method?: unknown; url?: unknown; headers?: { name?: unknown; value?: unknown }[]; postData?: { text?: unknown } }
  response?: { status?: unknown; content?: { mimeType?: unknown } }
}

const STATIC_TYPES = /^(image|font|audio|video)\/|javascript|css|wasm|octet-stream/i
const STATIC_NAMES = /\.(css|js|mjs|map|png|jpe?g|gif|svg|webp|avif|ico|woff2?|ttf|otf|mp4|webm|mp3|wasm)$/i
/** Headers that belong to one browser or one visit and say nothing about the request. */
const OWN_HEADERS = /^(:|host$|connection$|content-length$|user-agent$|accept-(encoding|language)$|cookie$|authorization$|origin$|referer$|sec-|dnt$|pragma$|cache-control$|upgrade-insecure-requests$|if-|te$|priority$)/i

/** Reads a recording of a browser's requests (HTTP Archive 1.2). Each distinct request is offered; static files and third methods are left out at first. */
export function readHar(value: unknown): FileRead {
  const entries = (value as { log?: { entries?: unknown } } | null)?.log?.entries
  if (!Array.isArray(entries)) return fileProblem('HAR', 'no list log.entries', 'an HTTP Archive with its entries')
  const offers: Offer[] = []
  const problems: Problem[] = []
  const seen = new Set<string>()
  for (const [index, entry] of (entries as HarEntry[]).entries()) {
    if (offers.length >= OFFERS_MOST) break
    const { request, response } = entry ?? {}
    const url = typeof request?.url === 'string' ? request.url : ''
    const method = typeof request?.method === 'string' ? request.method.toUpperCase() : ''
    if (!/^https?:\/\//i.test(url) || !URL.canParse(url) || !/^[A-Z]{2,20}$/.test(method)) {
      if (!/^(data|blob|ws|wss|chrome-extension|about):/i.test(url)) problems.push({ path: `log.entries[${index}].request`, found: `"${method} ${url.slice(0, 80)}"`, expected: 'a method and a web address' })
      continue
    }
    const key = `${method} ${url.replace(/#.*$/, '')}`
    if (seen.has(key)) continue
    seen.add(key)
    offers.push(offerOf(method, url.replace(/#.*$/, ''), request!, response))
  }
  return { format: 'HAR', offers, problems }
}

/** Recorded text as a definition writes it: what looks like a variable there is none. */
const asWritten = (text: string) => text.replaceAll('${', () => '$${')

function offerOf(method: string, url: string, request: NonNullable<HarEntry['request']>, response: HarEntry['response']): Offer {
  const { host, pathname, origin } = new URL(url)
  const status = Number(response?.status)
  const type = typeof response?.content?.mimeType === 'string' ? response.content.mimeType : ''
  const isStatic = STATIC_TYPES.test(type) || STATIC_NAMES.test(pathname)
  const isRead = method === 'GET' || method === 'HEAD'
  const headers = Object.fromEntries((Array.isArray(request.headers) ? request.headers : []).flatMap(({ name, value }) =>
    typeof name === 'string' && typeof value === 'string' && !OWN_HEADERS.test(name) && /^[!#$%&'*+.^_`|~0-9A-Za-z-]+$/.test(name) && value.length < 1000 && name.toLowerCase() !== 'accept' ? [[name.toLowerCase(), asWritten(value)]] : []))
  const body = typeof request.postData?.text === 'string' && request.postData.text !== '' ? asWritten(request.postData.text) : undefined
  const name = `${isRead ? '' : `${method} `}${host}${pathname === '/' ? '' : pathname}`.slice(0, 200)
  const note = isStatic ? 'a static file' : !isRead ? `${method} may change something` : undefined
  return {
    kind: 'check', label: `${method} ${url}`, chosen: !isStatic && isRead, ...(note ? { note } : {}),
    document: {
      check: keyFromName(name), name,
      http: { url: asWritten(url.startsWith(origin) ? url : origin), ...(method === 'GET' ? {} : { method }), ...(Object.keys(headers).length > 0 ? { headers } : {}), ...(body === undefined ? {} : { body }) },
      pass: [{ status: status >= 100 && status < 600 ? status : '200-299' }]
    }
  }
}
