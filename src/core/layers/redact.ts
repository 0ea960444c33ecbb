const HIDDEN = '(hidden)'

/** The ways in which a secret may come back in what a target sends: as it is, in an address, in Base64 and in JSON. */
function disguises(secret: string): string[] {
  const base64 = btoa(String.fromCharCode(...new TextEncoder().encode(secret)))
  return [...new Set([secret, encodeURIComponent(secret), base64, base64.replace(/=+$/, ''), JSON.stringify(secret).slice(1, -1)])]
}

/**
 * Cuts secrets out of a text wherever they stand, in any of their disguises. Secrets of fewer than four characters are
 * left alone: they would cut everywhere, and are refused where secrets are set.
 */
export function redactText(text: string, secrets: string[]): string {
  return secrets.filter((secret) => secret.length >= 4).flatMap(disguises).sort((a, b) => b.length - a.length)
    .reduce((redacted, each) => redacted.replaceAll(each, HIDDEN), text)
}

/** The same for every text inside a value. */
export function redactAll<Value>(value: Value, secrets: string[]): Value {
  if (secrets.length === 0) return value
  if (typeof value === 'string') return redactText(value, secrets) as Value
  if (Array.isArray(value)) return value.map((each: unknown) => redactAll(each, secrets)) as Value
  if (value === null || typeof value !== 'object') return value
  return Object.fromEntries(Object.entries(value).map(([key, each]) => [key, redactAll(each as unknown, secrets)])) as Value
}
