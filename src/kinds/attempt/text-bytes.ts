/** The bytes of a text in which \r, \n, \t, \0, \\ and \xNN stand for themselves. */
export function textBytes(text: string): Buffer {
  const plain: Record<string, string> = { r: '\r', n: '\n', t: '\t', 0: '\0', '\\': '\\' }
  const parts = text.split(/(\\x[0-9a-fA-F]{2}|\\[rnt0\\])/)
  return Buffer.concat(parts.map((part) => {
    if (/^\\x/.test(part)) return Buffer.from(part.slice(2), 'hex')
    return Buffer.from(/^\\[rnt0\\]$/.test(part) ? plain[part[1]!]! : part, 'utf8')
  }))
}
