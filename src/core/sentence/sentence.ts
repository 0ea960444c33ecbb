import type { Origin } from '../layers/inherit'

/** One piece of a sentence: plain words, or a part that can be changed in place. */
export interface SentencePiece {
  text: string
  /** Where the part stands in the definition (`every`, `down.tries`, `pass[0].status`); plain words have none. */
  part?: string
  /** `code` is set in the monospaced face; `down` and `slow` carry the colour of the state. */
  look?: 'code' | 'down' | 'slow' | 'muted'
  /** Values offered when the part is opened. */
  offers?: string[]
  /** What the part is, for screen readers and as the field's name: “how often”. */
  label?: string
  /** Where the value comes from, when it is not the check's own. */
  origin?: Origin
}

export type Sentence = SentencePiece[]

export const say = (text: string, look?: SentencePiece['look']): SentencePiece => (look ? { text, look } : { text })

/** The sentence as plain text, as in messages and histories. */
export function plainText(sentence: Sentence): string {
  return sentence.map((piece) => piece.text).join('')
}
