/** A document without some of its fields. */
export function withoutFields(document: Record<string, unknown>, fields: readonly string[]): Record<string, unknown> {
  return Object.fromEntries(Object.entries(document).filter(([field]) => !fields.includes(field)))
}
