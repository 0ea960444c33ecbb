import { mediaTypeOf, PICTURE_MOST } from './picture'

const bytes = (text: string) => Uint8Array.from(text, (letter) => letter.charCodeAt(0))
const refused = (content: Uint8Array) => { try { return mediaTypeOf(content) } catch (error) { return (error as { problems: { found: string }[] }).problems[0]!.found } }

describe('the type of a picture', () => {
  it.each([['\x89PNG\r\n\x1a\nrest', 'image/png'], ['\xff\xd8\xff\xe0rest', 'image/jpeg'], ['GIF89arest', 'image/gif'], ['RIFF\x10\0\0\0WEBPVP8 ', 'image/webp']])('is told from its first bytes: %#', (text, type) => expect(mediaTypeOf(bytes(text))).toBe(type))
  it.each([['<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>', 'something else'], ['<html>', 'something else'], ['RIFF\x10\0\0\0WAVE', 'something else'], ['\x89PNX', 'something else'], ['', 'nothing']])('is none: %j', (text, found) => expect(refused(bytes(text))).toBe(found))
  it('is refused when it is too large', () => expect(refused(new Uint8Array(PICTURE_MOST + 1))).toBe(`${PICTURE_MOST + 1} bytes`))
})
