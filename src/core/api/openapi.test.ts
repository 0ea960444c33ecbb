import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { kinds } from '../../kinds/definitions'
import { openApi } from './openapi'

type Operation = { operationId?: string; parameters?: unknown[]; responses?: Record<string, unknown> }
type Path = Record<string, Operation | unknown[]>

const METHODS = ['get', 'post', 'put', 'patch', 'delete'] as const
const document = openApi(kinds) as { paths: Record<string, Path>; components: Record<string, Record<string, unknown>> }

/** Every path and method that answers below /api/v1, from the files of its routes. */
function served(folder = 'app/api/v1', path = ''): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    if (entry.isDirectory()) return served(join(folder, entry.name), `${path}/${entry.name.replace(/^\[(.+)\]$/, '{$1}')}`)
    if (entry.name !== 'route.ts') return []
    const source = readFileSync(join(folder, entry.name), 'utf8')
    const names = [...source.matchAll(/export (?:const|async function|function) (GET|POST|PUT|PATCH|DELETE)\b/g)].map((each) => each[1]!)
    const together = [...source.matchAll(/export const \{([^}]+)\}/g)].flatMap((each) => each[1]!.split(',').map((name) => name.trim()).filter((name) => /^[A-Z]+$/.test(name)))
    return [...names, ...together].map((method) => `${method} ${path}`)
  })
}

const described = Object.entries(document.paths).filter(([, path]) => !('servers' in path)).flatMap(([path, operations]) => METHODS.filter((method) => method in operations).map((method) => `${method.toUpperCase()} ${path}`))
/** The names in braces are the document's own. */
const nameless = (all: string[]) => all.map((each) => each.replace(/\{[^}]+\}/g, '{}')).sort()

describe('the description of the HTTP API', () => {
  it('holds what is served, and nothing else', () => expect(nameless(described)).toEqual(nameless(served().filter((each) => each !== 'GET /openapi.json'))))
  it('names every operation once', () => {
    const names = Object.values(document.paths).flatMap((path) => METHODS.flatMap((method) => (path[method] as Operation | undefined)?.operationId ?? []))
    expect(names.length).toBeGreaterThan(50)
    expect(new Set(names).size).toBe(names.length)
  })
  it('says of every place in a path what stands there', () => {
    for (const [path, operations] of Object.entries(document.paths)) {
      const wanted = [...path.matchAll(/\{([^}]+)\}/g)].map((each) => each[1]!)
      for (const method of METHODS) {
        const own = operations[method] as Operation | undefined
        if (!own) continue
        const given = [...((operations.parameters as unknown[] | undefined) ?? []), ...(own.parameters ?? [])] as { name?: string; in?: string }[]
        for (const name of wanted) expect(`${path} ${given.filter((each) => each.in === 'path').map((each) => each.name).join(' ')}`).toContain(name)
      }
    }
  })
  it('refers to nothing that is not there', () => {
    const missing: string[] = []
    const visit = (node: unknown): void => {
      if (Array.isArray(node)) return node.forEach(visit)
      if (node === null || typeof node !== 'object') return
      for (const [key, value] of Object.entries(node)) {
        if (key === '$ref' && typeof value === 'string') {
          const found = value.replace('#/', '').split('/').reduce<unknown>((at, part) => (at as Record<string, unknown> | undefined)?.[part], document)
          if (found === undefined) missing.push(value)
        } else visit(value)
      }
    }
    visit(document)
    expect(missing).toEqual([])
  })
  it('answers everything with something', () => {
    for (const path of Object.values(document.paths)) for (const method of METHODS) if (path[method]) expect(Object.keys((path[method] as Operation).responses ?? {}).length).toBeGreaterThan(0)
  })
})
