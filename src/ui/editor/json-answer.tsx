'use client'

import classes from './json.module.css'

/** The normalized path of a value (RFC 9535, section 2.7), written with dots where a name allows it. */
function childPath(path: string, key: string | number): string {
  if (typeof key === 'number') return `${path}[${key}]`
  return /^[A-Za-z_][A-Za-z0-9_]*$/.test(key) ? `${path}.${key}` : `${path}['${key.replaceAll('\\', '\\\\').replaceAll("'", "\\'")}']`
}

const CHILDREN_MOST = 200

/** A body; when it is JSON, a click on a value makes a condition of it. */
export function JsonAnswer({ body, cut, addCondition, conditions }: { body: string; cut: boolean; addCondition: (written: Record<string, unknown>) => void; conditions: { json: string; number: number }[] }) {
  const parsed = parse(body)
  if (parsed === undefined) return <pre>{body === '' ? 'The body is empty.' : body}{cut && '\n…'}</pre>
  const byPath = new Map(conditions.map((condition) => [condition.json, condition.number]))
  const render = (value: unknown, path: string, depth: number): React.ReactNode => {
    const pad = '  '.repeat(depth + 1)
    if (Array.isArray(value)) {
      const number = byPath.get(path)
      return (
        <>
          [<button type="button" className={classes.count} title={`Make a condition: ${path} has at least ${value.length || 1} items`} data-used={number || undefined} onClick={() => addCondition({ json: path, count: { min: Math.max(1, value.length) } })}>{value.length} {value.length === 1 ? 'item' : 'items'}</button>{number && <span className={classes.note}>condition {number}</span>}{'\n'}
          {value.slice(0, CHILDREN_MOST).map((each, index) => <span key={index}>{pad}{render(each, childPath(path, index), depth + 1)}{index < value.length - 1 && ','}{'\n'}</span>)}{'  '.repeat(depth)}]
        </>
      )
    }
    if (value !== null && typeof value === 'object') {
      const entries = Object.entries(value).slice(0, CHILDREN_MOST)
      return <>{'{\n'}{entries.map(([key, each], index) => <span key={key}>{pad}&quot;{key}&quot;: {render(each, childPath(path, key), depth + 1)}{index < entries.length - 1 && ','}{'\n'}</span>)}{'  '.repeat(depth)}{'}'}</>
    }
    const number = byPath.get(path)
    return <><button type="button" className={classes.value} data-used={number || undefined} title={`Make a condition: ${path} is ${JSON.stringify(value)}`} onClick={() => addCondition({ json: path, is: value })}>{JSON.stringify(value)}</button>{number && <span className={classes.note}>condition {number}</span>}</>
  }
  return <pre>{render(parsed, '$', 0)}</pre>
}

function parse(body: string): unknown {
  try {
    const value: unknown = JSON.parse(body)
    return value !== null && typeof value === 'object' ? value : undefined
  } catch {
    return undefined
  }
}
