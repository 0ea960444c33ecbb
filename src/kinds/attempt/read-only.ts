/** Words that a query which only reads may begin with. */
const READING = /^(select|show|with|values|explain|describe|desc|table)\b/i

/** Whether a text is one statement that reads and nothing else; the server is asked to make sure of it too. */
export function isReadingQuery(text: string): boolean {
  const plain = text.replace(/--[^\n]*|\/\*[\s\S]*?\*\//g, ' ').replace(/'(?:[^'\\]|''|\\.)*'/g, "''").trim().replace(/;\s*$/, '')
  return READING.test(plain) && !plain.includes(';') && !/\b(insert|update|delete|drop|alter|create|truncate|grant|revoke|replace|merge|call|into\s+(outfile|dumpfile)|for\s+update)\b/i.test(plain)
}
