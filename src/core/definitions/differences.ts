/** One place where two documents differ; a side that is missing had nothing there. */
export interface Difference {
  path: string
  before?: unknown
  after?: unknown
}

const isObject = (value: unknown): value is Record<string, unknown> => value !== null && typeof value === 'object' && !Array.isArray(value)

/**
 * The places where two documents differ, in the order of the first. Objects are compared field by field; lists of plain
 * values as a whole, other lists item by item.
 */
export function differences(before: unknown, after: unknown, path = ''): Difference[] {
  if (same(before, after)) return []
  if (isObject(before) && isObject(after)) {
    return [...new Set([...Object.keys(before), ...Object.keys(after)])].flatMap((key) => differences(before[key], after[key], path === '' ? key : `${path}.${key}`))
  }
  const bothLists = Array.isArray(before) && Array.isArray(after) && [...before, ...after].some(isObject)
  if (bothLists) {
    return Array.from({ length: Math.max(before.length, after.length) }, (_, index) => differences(before[index], after[index], `${path}[${index}]`)).flat()
  }
  return [{ path, ...(before === undefined ? {} : { before }), ...(after === undefined ? {} : { after }) }]
}

/** Whether two values are the same when written; the order of fields does not count. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((each, index) => same(each, b[index]))
  if (!isObject(a) || !isObject(b)) return false
  const keys = new Set([...Object.keys(a), ...Object.keys(b)].filter((key) => a[key] !== undefined || b[key] !== undefined))
  return [...keys].every((key) => same(a[key], b[key]))
}

/** Says one side of a difference in a line: text as it is, all else as JSON. */
export function speakValue(value: unknown): string {
  if (value === undefined) return 'nothing'
  if (typeof value === 'string') return value
  if (Array.isArray(value) && value.every((each) => typeof each !== 'object')) return value.join(', ')
  if (isObject(value) && Object.values(value).every((each) => typeof each !== 'object')) return Object.entries(value).map(([key, each]) => `${key} ${String(each)}`).join(', ')
  return JSON.stringify(value)
}
