import { speakDuration } from '@/core/definitions/duration'
import { writeCsv } from '@/core/files/read-csv'
import { writeDefinitions } from '@/core/files/read-definitions'
import type { StoredCheck } from '@/store/checks'
import type { StoredService } from '@/store/world'

/** The definitions of some checks and of the services they belong to, services first. */
export function definitionsOf(checks: StoredCheck[], services: StoredService[]): Record<string, unknown>[] {
  const used = new Set(checks.map((stored) => stored.serviceId))
  return [...services.filter((service) => used.has(service.id)).map((service) => service.document), ...checks.map((stored) => stored.document)]
}

/** Checks as a file to keep: `yaml` and `json` hold everything, `csv` what fits into a table. */
export function exportFile(as: string, checks: StoredCheck[], services: StoredService[]): Response {
  const file = (content: string, type: string, ending: string) => new Response(content, { headers: { 'content-type': `${type}; charset=utf-8`, 'content-disposition': `attachment; filename="hemeron-checks.${ending}"` } })
  if (as === 'json') return file(JSON.stringify({ definitions: definitionsOf(checks, services) }, null, 2), 'application/json', 'json')
  if (as !== 'csv') return file(writeDefinitions(definitionsOf(checks, services)), 'application/yaml', 'yaml')
  return file(writeCsv(checks.map(({ check, address }) => ({
    key: check.key, name: check.name, address, service: check.service ?? '', tags: check.tags.join(';'), every: speakDuration(check.every).replace(' ', ''), importance: check.importance,
    from: check.from === 'all' ? 'all' : Array.isArray(check.from) ? check.from.join(';') : ''
  }))), 'text/csv', 'csv')
}
