import { Parser } from 'm3u8-parser'
import { setTimeout as sleep } from 'node:timers/promises'
import { runnerOf, type Trying } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { askHttp } from '../http/ask'
import { streamDefinition } from './definition'

const PLAYLIST_MOST = 2_000_000
const SEGMENT_MOST = 50_000_000
type Manifest = Parser['manifest']

export const streamRunner = runnerOf(streamDefinition, async (target, trying, { wait }) => {
  const first = await playlist(new URL(target.url), target.unverified, trying)
  const variants = (first.manifest.playlists ?? []).map((each) => ({ url: new URL(each.uri, first.url), bits: each.attributes?.BANDWIDTH ?? 0, size: each.attributes?.RESOLUTION })).sort((a, b) => a.bits - b.bits)
  const chosen = target.quality === 'lowest' ? variants[0] : variants.at(-1)
  const media = chosen ? await playlist(chosen.url, target.unverified, trying) : first
  const { segments, targetDuration = 0, mediaSequence = 0, endList = false } = media.manifest
  const newest = segments.at(-1)
  trying.evidence.tables = [
    ...(variants.length > 0 ? [{ title: 'Qualities', columns: [{ name: 'bits a second', as: 'number' as const }, { name: 'size' }, { name: 'playlist', as: 'code' as const }], rows: variants.map(({ bits, size, url }) => [bits, size ? `${size.width} × ${size.height}` : null, url.href]) }] : []),
    { title: 'Newest segments', columns: [{ name: 'segment', as: 'code' as const }, { name: 'seconds', as: 'number' as const }], rows: segments.slice(-6).map((segment) => [segment.uri.slice(0, 200), segment.duration]) }
  ]
  if (!newest) throw new TryFailure('bad-answer', 'the playlist holds no segment')
  const readings: Record<string, number> = { qualities: Math.max(1, variants.length), segments: segments.length }
  if (newest.dateTimeObject) readings.age = Math.max(0, Date.now() - newest.dateTimeObject.getTime() - newest.duration * 1000)
  Object.assign(trying.readings, readings)
  const begun = performance.now()
  const segment = await askHttp(trying, { url: new URL(newest.uri, media.url), unverified: target.unverified, most: SEGMENT_MOST, redirects: 3 })
  const took = (performance.now() - begun) / 1000
  if (segment.status !== 200 && segment.status !== 206) throw new TryFailure('server-failed', `the newest segment answers ${segment.status}`)
  if (segment.body.length === 0) throw new TryFailure('bad-answer', 'the newest segment is empty')
  trying.noted.bytesReceived = segment.wireBytes
  trying.noted.protocol = 'HLS'
  Object.assign(readings, { pace: newest.duration / Math.max(0.001, took), rate: (segment.body.length * 8) / Math.max(0.001, newest.duration) })
  const end = mediaSequence + segments.length
  if (!endList) await advances(media.url, target.unverified, end, Math.max(1, targetDuration), wait, trying)
  return { body: media.text, readings, status: 200 }
})

/** Fetches and reads a playlist (RFC 8216). */
async function playlist(url: URL, unverified: boolean, trying: Trying): Promise<{ manifest: Manifest; url: URL; text: string }> {
  const received = await askHttp(trying, { url, unverified, most: PLAYLIST_MOST, redirects: 5 })
  trying.noted.status = received.status
  if (received.status !== 200) throw new TryFailure('status', `the playlist answers ${received.status}`)
  const text = trying.answer(received.body)
  if (!/^\uFEFF?#EXTM3U\b/.test(text)) throw new TryFailure('bad-answer', 'the answer is no playlist: it does not begin with #EXTM3U')
  const parser = new Parser()
  try {
    parser.push(text)
    parser.end()
  } catch (error) {
    throw new TryFailure('bad-answer', `the playlist cannot be read: ${error instanceof Error ? error.message : 'unknown'}`)
  }
  return { manifest: parser.manifest, url: received.url, text }
}

/**
 * Looks whether segments were added. What the last try saw is compared first; otherwise the playlist is asked for again, as
 * often as players do (RFC 8216, section 6.3.4), for one and a half target durations as far as the time of the try allows.
 */
async function advances(url: URL, unverified: boolean, end: number, targetDuration: number, wait: number, trying: Trying): Promise<void> {
  const last = trying.memory.get('end') as { end: number; at: number } | undefined
  const now = Date.now()
  if (!last || end !== last.end) trying.memory.set('end', { end, at: now })
  const patience = targetDuration * 1500
  if (last && end > last.end) return
  if (last && end === last.end && now - last.at > patience) throw new TryFailure('not-advancing', `no segment was added for ${Math.round((now - last.at) / 1000)} s, and each lasts ${targetDuration} s`)
  const until = Math.min(now + patience, now + wait - 500 - (performance.now() - trying.clock.started))
  while (Date.now() < until) {
    trying.clock.stop()
    await sleep(Math.min(1000, (targetDuration * 1000) / 2), undefined, { signal: trying.signal })
    const again = await playlist(url, unverified, trying)
    if ((again.manifest.mediaSequence ?? 0) + again.manifest.segments.length > end) return
  }
  if (until - now >= patience - 50) throw new TryFailure('not-advancing', `no segment was added within ${Math.round(patience / 1000)} s, and each lasts ${targetDuration} s`)
  trying.talk.note('the wait is too short to see a segment being added; the next try will')
}
