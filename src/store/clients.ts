import { change, rows, type Queryable } from './database'

/** Whom services are looked after for. */
export interface Client {
  key: string
  name: string
}

export async function listClients(on: Queryable): Promise<Client[]> {
  return rows<Client>(on, 'SELECT client_key AS `key`, name FROM client ORDER BY name')
}

/** Adds a client, or gives one another name. */
export async function addClient(on: Queryable, client: Client): Promise<void> {
  await change(on, 'INSERT INTO client (client_key, name) VALUES (?, ?) ON DUPLICATE KEY UPDATE name = VALUES(name)', [client.key, client.name])
}
