import { HTTP_DEFAULTS, type HttpTarget } from './target'

/** The method of a request that does not say one: a shape sends something. */
export function usualMethod(target: { graphql?: unknown; soap?: unknown; upload?: unknown }): string {
  return target.graphql !== undefined || target.soap !== undefined || target.upload !== undefined ? 'POST' : HTTP_DEFAULTS.method
}

const BOUNDARY = 'hemeron-3f1c9a77e2d04b58'

/** The body of a request and the headers that its shape needs. */
export function bodyOf({ body, graphql, soap, upload }: Pick<HttpTarget, 'body' | 'graphql' | 'soap' | 'upload'>): { body?: string; headers: Record<string, string> } {
  if (graphql) {
    const { query, variables, operation } = graphql
    return {
      body: JSON.stringify({ query, ...(variables ? { variables } : {}), ...(operation === undefined ? {} : { operationName: operation }) }),
      headers: { 'content-type': 'application/json', accept: 'application/graphql-response+json, application/json' }
    }
  }
  if (soap) {
    // SOAP 1.1, section 6.1.1; SOAP 1.2 part 2, section 7.1.4
    return soap.version === '1.2'
      ? { body: soap.envelope, headers: { 'content-type': `application/soap+xml; charset=utf-8${soap.action === undefined ? '' : `; action="${soap.action}"`}` } }
      : { body: soap.envelope, headers: { 'content-type': 'text/xml; charset=utf-8', soapaction: `"${soap.action ?? ''}"` } }
  }
  if (upload) {
    const { field, file, content, type = 'application/octet-stream' } = upload
    const name = (text: string) => text.replace(/["\r\n]/g, (character) => encodeURIComponent(character))
    // RFC 7578, section 4
    return {
      body: `--${BOUNDARY}\r\nContent-Disposition: form-data; name="${name(field)}"; filename="${name(file)}"\r\nContent-Type: ${type.replace(/[\r\n]/g, '')}\r\n\r\n${content}\r\n--${BOUNDARY}--\r\n`,
      headers: { 'content-type': `multipart/form-data; boundary=${BOUNDARY}` }
    }
  }
  return { ...(body === undefined ? {} : { body }), headers: {} }
}

/** What a shape calls a failure although the status may be 200, in words; undefined when there is none. */
export function faultIn({ graphql, soap }: Pick<HttpTarget, 'graphql' | 'soap'>, text: string): string | undefined {
  if (graphql) return graphqlFault(text)
  return soap ? soapFault(text) : undefined
}

function graphqlFault(text: string): string | undefined {
  let answer: unknown
  try {
    answer = JSON.parse(text)
  } catch {
    return 'the answer is not JSON, as GraphQL answers are'
  }
  const { errors, data } = (answer ?? {}) as { errors?: unknown; data?: unknown }
  if (Array.isArray(errors) && errors.length > 0) {
    const messages = errors.map((error) => String((error as { message?: unknown } | null)?.message ?? 'an error without a message'))
    return `GraphQL answers ${errors.length === 1 ? 'an error' : `${errors.length} errors`}: ${messages.slice(0, 3).join('; ')}`.slice(0, 300)
  }
  return data === undefined ? 'the answer has neither data nor errors, as GraphQL answers have' : undefined
}

function soapFault(text: string): string | undefined {
  const [, inside] = /<(?:[A-Za-z0-9_.-]+:)?Fault[\s>]([\s\S]*?)<\/(?:[A-Za-z0-9_.-]+:)?Fault>/.exec(text) ?? []
  if (inside !== undefined) {
    const [, reason] = /<(?:[A-Za-z0-9_.-]+:)?(?:faultstring|Text)[^>]*>([^<]*)</.exec(inside) ?? []
    return `SOAP answers a fault: ${reason?.trim() ?? 'without a reason'}`.slice(0, 300)
  }
  return /<(?:[A-Za-z0-9_.-]+:)?Envelope[\s>]/.test(text) ? undefined : 'the answer is no SOAP envelope'
}
