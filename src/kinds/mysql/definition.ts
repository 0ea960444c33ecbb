import { describeKind } from '../../core/definitions/describe-kind'
import { formatHostAndPort, guessByScheme, takeHostAndPort } from '../../core/definitions/host-and-port'
import { secretTarget, textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'
import { endpointFields, type Endpoint } from '../attempt/security'
import { isReadingQuery } from '../attempt/read-only'

export interface DatabaseTarget extends Endpoint {
  user: string
  password?: string
  database?: string
  query: string
}

/** The fields, conditions and words that SQL databases share. */
export const databaseFields = (port: number) => ({
  ...endpointFields(port), user: textTarget('user', { isNeeded: true, most: 100 }), password: secretTarget(),
  database: textTarget('database', { most: 100 }), query: textTarget('query', { most: 10_000, otherwise: 'SELECT 1', fits: isReadingQuery, expected: 'one query that only reads, such as SELECT count(*) FROM orders' })
})

export const DATABASE_WORDS = {
  offers: [
    { name: 'the number lies within limits', written: { number: { max: 100, warn: 50 } } }, { name: 'the value is …', written: { value: { is: '1' } } }, { name: 'there are so many rows', written: { rows: { min: 1 } } }
  ],
  subjects: ['json', 'text', 'pattern'] as const,
  readings: { number: { unit: 'number', says: 'number' }, rows: { unit: 'number', says: 'number of rows' } } as const,
  facts: { value: { says: 'value' } },
  phases: ['lookup', 'connect', 'login', 'wait'] as const
}

export const mysqlDefinition = describeKind<DatabaseTarget>({
  kind: 'mysql',
  name: 'MySQL or MariaDB',
  family: 'services',
  proves: 'The database takes the sign-in and answers a query that reads; its value can be judged.',
  doesNotProve: 'That it takes changes, or that replicas keep up, unless the query asks for that.',
  fields: databaseFields(3306),
  blank: { host: 'address.invalid', user: 'watch' },
  addressField: 'host',
  inSentence: ['host', 'port', 'query', 'user'],
  takeAddress: takeHostAndPort({ mysql: 3306, mariadb: 3306 }),
  sentence: (_target, part) => [say('Ask MySQL at '), part('host', { look: 'code' }), say(' port '), part('port', { look: 'code' }), say(' as '), part('user'), say(' for '), part('query', { look: 'code' })],
  address: (target) => formatHostAndPort(target.host, target.port),
  guess: guessByScheme({ mysql: 3306, mariadb: 3306 }, () => ({ user: 'watch' })),
  ...DATABASE_WORDS
})
