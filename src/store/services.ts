import { HemeronError } from '../core/problems'
import { readService, type Service } from '../core/definitions/service'
import { change, fromJson, isDuplicate, row, rows, type Queryable } from './database'
import { bumpDefinitions } from './locations'

export interface StoredService extends Service {
  id: number
  version: number
}

function stored(found: { id: number; document: unknown; version: number }): StoredService {
  const read = readService(fromJson(found.document))
  if ('problems' in read) throw new Error(`The stored service ${found.id} cannot be read.`)
  return { ...read.service, id: found.id, version: found.version }
}

export async function listServices(on: Queryable): Promise<StoredService[]> {
  return (await rows<{ id: number; document: unknown; version: number }>(on, 'SELECT id, document, version FROM service ORDER BY position, id')).map(stored)
}

export async function serviceByKey(on: Queryable, key: string): Promise<StoredService | undefined> {
  const found = await row<{ id: number; document: unknown; version: number }>(on, 'SELECT id, document, version FROM service WHERE service_key = ?', [key])
  return found && stored(found)
}

/** Adds a service from its written form. Throws bad-document or duplicate-key. */
export async function addService(on: Queryable, document: unknown): Promise<StoredService> {
  const read = readService(document)
  if ('problems' in read) throw new HemeronError('bad-document', undefined, read.problems)
  try {
    const result = await change(on, 'INSERT INTO service (service_key, document, position) SELECT ?, ?, COALESCE(MAX(position), 0) + 1 FROM service',
      [read.service.key, JSON.stringify(document)])
    await bumpDefinitions(on)
    return { ...read.service, id: result.insertId, version: 1 }
  } catch (error) {
    if (isDuplicate(error)) throw new HemeronError('duplicate-key', `There is a service ${read.service.key} already.`, [{ path: 'service', found: read.service.key, expected: 'a key that is not taken' }])
    throw error
  }
}
