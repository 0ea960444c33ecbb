const HIDDEN = '(hidden)'

/** The ways in which a secret may come back in what a target sends: as it is, in an address, in Base64 and in JSON. */
function disguises(secret: string): string[] {
  const base64 = btoa(String.fromCharCode(...new TextEncoder().encode(secret)))
  return [...new Set([secret, encodeURIComponent(secret), base64, base64.replace(/=+$/, ''), JSON.stringify(secret).slice(1, -1)])]
}

/** Texts that are kept only in part are this long at least; a secret may have been cut through at their end. */
const CUT = 1000
const LEAST = 4

/**
 * Cuts secrets out of a text wherever they stand, in any of their disguises, and the beginning of one that a long text ends in.
 * Secrets of fewer than four characters are left alone: they would cut everywhere, and are refused where secrets are set.
 */
export function redactText(text: string, secrets: string[]): string {
  const all = secrets.filter((secret) => secret.length >= LEAST).flatMap(disguises).sort((a, b) => b.length - a.length)
  const redacted = all.reduce((left, each) => left.replaceAll(each, HIDDEN), text)
  return text.length < CUT ? redacted : withoutBegun(redacted, all)
}

function withoutBegun(text: string, secrets: string[]): string {
  const most = Math.max(0, ...secrets.map((each) => Math.min(each.length - 1, text.length)))
  for (let length = most; length >= LEAST; length -= 1) {
    const end = text.slice(-length)
    if (secrets.some((each) => each.startsWith(end))) return `${text.slice(0, -length)}${HIDDEN}`
  }
  return text
}

/** The same for every text inside a value. */
export function redactAll<Value>(value: Value, secrets: string[]): Value {
  if (secrets.length === 0) return value
  if (typeof value === 'string') return redactText(value, secrets) as Value
  if (Array.isArray(value)) return value.map((each: unknown) => redactAll(each, secrets)) as Value
  if (value === null || typeof value !== 'object') return value
  return Object.fromEntries(Object.entries(value).map(([key, each]) => [key, redactAll(each as unknown, secrets)])) as Value
}
