import { keyFromName } from '../definitions/key'
import type { Problem } from '../problems'
import { fileProblem, OFFERS_MOST, type FileRead, type Offer } from './offer'

type Json = Record<string, unknown>
const REFERENCES_MOST = 50

/** Reads an OpenAPI 3 document (or Swagger 2). Each GET is offered with the status it says success has. */
export function readOpenApi(root: Json): FileRead {
  const version = String(root.openapi ?? root.swagger ?? '')
  if (!/^(3\.|2\.0)/.test(version)) return fileProblem('OpenAPI', `version ${version || 'none'}`, 'OpenAPI 3, or Swagger 2.0')
  const base = baseOf(root)
  if (!isObject(root.paths)) return fileProblem('OpenAPI', 'no paths', 'an object of paths')
  const offers: Offer[] = []
  const problems: Problem[] = []
  for (const [path, given] of Object.entries(root.paths)) {
    if (offers.length >= OFFERS_MOST) break
    const at = `paths["${path}"]`
    try {
      const item = resolve(root, given, at)
      if (!isObject(item) || !isObject(item.get)) continue
      offers.push(offerOf(root, base, path, item, item.get, at))
    } catch (error) {
      if (!(error instanceof BadReference)) throw error
      problems.push({ path: error.path, found: error.found, expected: 'a reference that leads to something and not back to itself' })
    }
  }
  return { format: 'OpenAPI', offers, problems }
}

class BadReference extends Error {
  constructor(readonly path: string, readonly found: string) {
    super(found)
  }
}

const isObject = (value: unknown): value is Json => value !== null && typeof value === 'object' && !Array.isArray(value)

/** Follows `$ref` inside the document; loops and references to elsewhere are said with their path. */
function resolve(root: Json, value: unknown, path: string): unknown {
  const seen = new Set<string>()
  let found = value
  while (isObject(found) && typeof found.$ref === 'string') {
    const reference = found.$ref
    if (seen.has(reference)) throw new BadReference(path, `${[...seen, reference].slice(0, 6).join(' → ')}, which goes round in a circle`)
    if (seen.size >= REFERENCES_MOST || !reference.startsWith('#/')) throw new BadReference(path, `a reference to ${reference.slice(0, 100)}`)
    seen.add(reference)
    found = reference.slice(2).split('/').map((step) => decodeURIComponent(step).replaceAll('~1', '/').replaceAll('~0', '~'))
      .reduce<unknown>((place, step) => (isObject(place) || Array.isArray(place) ? (place as Json)[step] : undefined), root)
    if (found === undefined) throw new BadReference(path, `a reference to ${reference.slice(0, 100)}, where nothing stands`)
  }
  return found
}

/** Where the API is: its first server with the defaults of its variables, or a variable to be set when it says none. */
function baseOf(root: Json): string {
  const server = Array.isArray(root.servers) && isObject(root.servers[0]) ? root.servers[0] : undefined
  const swagger = typeof root.host === 'string' ? `${Array.isArray(root.schemes) ? String(root.schemes[0]) : 'https'}://${root.host}${typeof root.basePath === 'string' ? root.basePath : ''}` : ''
  const variables = isObject(server?.variables) ? server.variables : {}
  const url = typeof server?.url === 'string' ? server.url.replace(/\{([^}]+)\}/g, (_, name: string) => String((variables[name] as Json | undefined)?.default ?? name)) : swagger
  if (/^https?:\/\//.test(url)) return url.replace(/\/$/, '')
  return `\${BASE}${url.replace(/\/$/, '')}`
}

function offerOf(root: Json, base: string, path: string, item: Json, get: Json, at: string): Offer {
  const parameters = [...(Array.isArray(item.parameters) ? item.parameters : []), ...(Array.isArray(get.parameters) ? get.parameters : [])]
    .map((each, index) => resolve(root, each, `${at}.parameters[${index}]`)).filter(isObject)
  const missing: string[] = []
  const valueOf = (parameter: Json): string | undefined => {
    const schema = resolve(root, parameter.schema ?? parameter, `${at}.parameters`) as Json
    const value = parameter.example ?? firstExample(parameter.examples) ?? schema.example ?? schema.default ?? (Array.isArray(schema.enum) ? schema.enum[0] : undefined)
    return value === undefined || value === null || typeof value === 'object' ? undefined : String(value)
  }
  const filled = path.replace(/\{([^}]+)\}/g, (written, name: string) => {
    const parameter = parameters.find((each) => each.name === name && each.in === 'path')
    const value = parameter && valueOf(parameter)
    if (value === undefined) missing.push(name)
    return value === undefined ? written : encodeURIComponent(value)
  })
  const query = parameters.filter((each) => each.in === 'query' && each.required === true).flatMap((each) => {
    const value = valueOf(each)
    if (value === undefined) missing.push(String(each.name))
    return value === undefined ? [] : [`${encodeURIComponent(String(each.name))}=${encodeURIComponent(value)}`]
  })
  const name = String(get.summary ?? get.operationId ?? `GET ${path}`).slice(0, 200)
  const responses = isObject(get.responses) ? Object.keys(get.responses) : []
  const success = responses.find((status) => /^2\d\d$/.test(status))
  return {
    kind: 'check', label: `GET ${path}`, chosen: missing.length === 0, ...(missing.length > 0 ? { note: `a value is needed for ${missing.join(', ')}` } : {}),
    document: {
      check: keyFromName(String(get.operationId ?? name)), name,
      http: { url: `${base}${filled.replace(/\{([^}]+)\}/g, (_, each: string) => `\${${each.replace(/[^A-Za-z0-9_]/g, '_')}}`)}${query.length > 0 ? `?${query.join('&')}` : ''}` },
      pass: [{ status: success ? Number(success) : '200-299' }]
    }
  }
}

function firstExample(examples: unknown): unknown {
  const first = isObject(examples) ? Object.values(examples)[0] : undefined
  return isObject(first) ? first.value : undefined
}
