import { HemeronError } from '../problems'

/** How large a picture of a note may be, in bytes, and how many an incident may have. */
export const PICTURE_MOST = 4_000_000
export const PICTURES_MOST = 100

const starts = (bytes: Uint8Array, text: string, at = 0) => [...text].every((letter, index) => bytes[at + index] === letter.charCodeAt(0))

/**
 * The media type of a picture, told from its first bytes and never from what it is called: PNG (RFC 2083), JPEG, GIF, WebP (RFC 9649).
 * Throws bad-document for anything else, among it SVG, which can carry scripts, and for what is empty or too large.
 */
export function mediaTypeOf(bytes: Uint8Array): 'image/png' | 'image/jpeg' | 'image/gif' | 'image/webp' {
  const wrong = (found: string, expected: string) => new HemeronError('bad-document', undefined, [{ path: 'picture', found, expected }])
  if (bytes.length > PICTURE_MOST) throw wrong(`${bytes.length} bytes`, `at most ${PICTURE_MOST} bytes`)
  if (starts(bytes, '\x89PNG\r\n\x1a\n')) return 'image/png'
  if (starts(bytes, '\xff\xd8\xff')) return 'image/jpeg'
  if (starts(bytes, 'GIF87a') || starts(bytes, 'GIF89a')) return 'image/gif'
  if (starts(bytes, 'RIFF') && starts(bytes, 'WEBP', 8)) return 'image/webp'
  throw wrong(bytes.length === 0 ? 'nothing' : 'something else', 'a picture in PNG, JPEG, GIF or WebP')
}
