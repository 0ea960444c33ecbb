/** Text in one look. */
export interface Piece { text: string; look: Look; link?: string }
export type Look = 'plain' | 'strong' | 'slanted' | 'code'

/** A run of characters of one font, at a place of its line. */
export interface Run { text: string; font: string; x: number; link?: string }
export interface Line { runs: Run[]; width: number }

/** What is known of the fonts: how wide a text is, in some unit, and which characters they hold. */
export interface Fonts {
  widthOf: (text: string, font: string) => number
  holds: (font: string, character: string) => boolean
}

/** What the name of the second file of a font ends in: it holds letters that the first has not, and no space. */
export const MORE = '-beyond'
/** Spaces of every width, of which fonts hold only some. */
const NARROW = /[\u2000-\u200a\u202f\u205f]/

/** The font of a character in some look, and what is written for it: characters that no font holds become question marks. */
function fontOf(character: string, look: Look, { holds }: Fonts): { font: string; text: string } {
  const text = NARROW.test(character) ? '\u00a0' : character
  if (holds(look, text)) return { font: look, text }
  return holds(`${look}${MORE}`, text) ? { font: `${look}${MORE}`, text } : { font: look, text: '?' }
}

/** Whether a font holds every character of a text. */
export const isWritable = (text: string, fonts: Fonts): boolean => [...text].every((character) => character === '\n' || character === '?' || fontOf(character, 'plain', fonts).text !== '?')

interface Part { text: string; font: string; link?: string }
interface Word { parts: Part[]; width: number; breaks: boolean }

/**
 * Breaks pieces of text into lines of at most some width. A word that is wider than a line is broken where it has to be.
 * @param width in the unit of the fonts' widths
 */
export function linesOf(pieces: readonly Piece[], width: number, fonts: Fonts): Line[] {
  const { widthOf } = fonts
  const lines: Line[] = [{ runs: [], width: 0 }]
  const space = widthOf(' ', 'plain')
  for (const word of wordsOf(pieces, width, fonts)) {
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
function wordsOf(pieces: readonly Piece[], width: number, fonts: Fonts): Word[] {
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
      const written = fontOf(character, look, fonts)
      const own = fonts.widthOf(written.text, written.font)
      if (!open || open.width + own > width) words.push(open = { parts: [], width: 0, breaks: false })
      const last = open.parts.at(-1)
      if (last?.font === written.font && last.link === link) last.text += written.text
      else open.parts.push({ ...written, ...(link === undefined ? {} : { link }) })
      open.width += own
    }
  }
  return words
}
