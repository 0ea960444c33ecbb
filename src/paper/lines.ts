/** Text in one look. */
export interface Piece { text: string; look: Look; link?: string }
export type Look = 'plain' | 'strong' | 'slanted' | 'code'

/** A run of characters of one font, at a place of its line. */
export interface Run { text: string; font: string; x: number; link?: string }
export interface Line { runs: Run[]; width: number }

/** What the name of a font with more letters ends in; it has no space. */
const MORE = '-beyond'
/** Which characters the second file of a font holds: Latin letters beyond those of western Europe. */
const BEYOND = /[\u0100-\u0130\u0132-\u0151\u0154-\u02ba\u02bd-\u02c5\u1e00-\u1eff\u20a0-\u20ab\u20ad-\u20c0\u2113\u2c60-\u2c7f\ua720-\ua7ff]/
/** What the first file holds. */
const WITHIN = /[\t\n\u0020-\u00ff\u0131\u0152\u0153\u02bb\u02bc\u02c6\u02da\u02dc\u2000-\u206f\u20ac\u2122\u2191\u2193\u2212\u2215]/

/** The font of a character in some look, and what is written for it: characters that no font holds become question marks. */
function fontOf(character: string, look: Look): { font: string; text: string } {
  if (BEYOND.test(character)) return { font: `${look}${MORE}`, text: character }
  return { font: look, text: WITHIN.test(character) ? character : '?' }
}

/** Whether every character of a text has a font. */
export const isWritable = (text: string): boolean => [...text].every((character) => BEYOND.test(character) || WITHIN.test(character))

interface Part { text: string; font: string; link?: string }
interface Word { parts: Part[]; width: number; breaks: boolean }

/**
 * Breaks pieces of text into lines of at most some width. A word that is wider than a line is broken where it has to be.
 * @param widthOf the width of a text in a font, in the unit of the width
 */
export function linesOf(pieces: readonly Piece[], width: number, widthOf: (text: string, font: string) => number): Line[] {
  const lines: Line[] = [{ runs: [], width: 0 }]
  const space = widthOf(' ', 'plain')
  for (const word of wordsOf(pieces, width, widthOf)) {
    if (word.breaks) {
      lines.push({ runs: [], width: 0 })
      continue
    }
    let line = lines.at(-1)!
    const gap = line.runs.length === 0 ? 0 : space
    if (line.runs.length > 0 && line.width + gap + word.width > width) lines.push(line = { runs: [], width: 0 })
    else line.width += gap
    word.parts.forEach((part, place) => {
      const last = line.runs.at(-1)
      // words of one look are one run, with the spaces between them
      if (place === 0 && last?.font === part.font && last.link === part.link && !part.font.endsWith(MORE)) last.text += ` ${part.text}`
      else line.runs.push({ ...part, x: line.width })
      line.width += widthOf(part.text, part.font)
    })
  }
  return lines
}

/** The words of pieces; one of several looks, or beside which no space stands, stays together. */
function wordsOf(pieces: readonly Piece[], width: number, widthOf: (text: string, font: string) => number): Word[] {
  const words: Word[] = []
  let open: Word | undefined
  const close = () => { open = undefined }
  for (const { text, look, link } of pieces) {
    for (const character of text) {
      if (character === '\n') words.push({ parts: [], width: 0, breaks: true })
      if (/[ \t\n\r]/.test(character)) {
        close()
        continue
      }
      const written = fontOf(character, look)
      const own = widthOf(written.text, written.font)
      if (!open || open.width + own > width) words.push(open = { parts: [], width: 0, breaks: false })
      const last = open.parts.at(-1)
      if (last?.font === written.font && last.link === link) last.text += written.text
      else open.parts.push({ ...written, ...(link === undefined ? {} : { link }) })
      open.width += own
    }
  }
  return words
}
