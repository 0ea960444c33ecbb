import { describeKind } from '../../core/definitions/describe-kind'
import { formatHostAndPort, guessByScheme, takeHostAndPort } from '../../core/definitions/host-and-port'
import { say } from '../../core/sentence/sentence'
import { DATABASE_WORDS, databaseFields, type DatabaseTarget } from '../mysql/definition'

export const postgresDefinition = describeKind<DatabaseTarget>({
  kind: 'postgres',
  name: 'PostgreSQL',
  family: 'services',
  proves: 'The database takes the sign-in and answers a query that reads; its value can be judged.',
  doesNotProve: 'That it takes changes, or that replicas keep up, unless the query asks for that.',
  fields: databaseFields(5432),
  blank: { host: 'address.invalid', user: 'watch' },
  addressField: 'host',
  inSentence: ['host', 'port', 'query', 'user'],
  takeAddress: takeHostAndPort({ postgres: 5432, postgresql: 5432 }),
  sentence: (_target, part) => [say('Ask PostgreSQL at '), part('host', { look: 'code' }), say(' port '), part('port', { look: 'code' }), say(' as '), part('user'), say(' for '), part('query', { look: 'code' })],
  address: (target) => formatHostAndPort(target.host, target.port),
  guess: guessByScheme({ postgres: 5432, postgresql: 5432 }, () => ({ user: 'watch' })),
  ...DATABASE_WORDS
})
