/** Words that a query which only reads may begin with. */
const READING = /^(select|show|with|values|explain|describe|desc|table)\b/i
const WRITING = /\b(insert|update|delete|drop|alter|create|truncate|grant|revoke|replace|merge|call|into\s+(outfile|dumpfile)|for\s+update)\b/i

/** Texts, names in quotes and comments, whichever begins first: with a backslash that hides a quote, as some servers have it, and without, as others do. */
const QUOTED = [
  /'(?:[^'\\]|''|\\[\s\S])*'|"(?:[^"\\]|""|\\[\s\S])*"|--[^\n]*|\/\*[\s\S]*?\*\//g,
  /'(?:[^']|'')*'|"(?:[^"]|"")*"|--[^\n]*|\/\*[\s\S]*?\*\//g
]

/** Whether a text is one statement that reads and nothing else, however the server reads its quotes; the server is asked to make sure of it too. */
export const isReadingQuery = (text: string): boolean => QUOTED.every((quoted) => {
  const plain = text.replace(quoted, (piece) => (piece.startsWith("'") || piece.startsWith('"') ? "''" : ' ')).trim().replace(/;\s*$/, '')
  return READING.test(plain) && !plain.includes(';') && !WRITING.test(plain)
})
