import { describeKind } from '../../core/definitions/describe-kind'
import { formatHostAndPort, guessByScheme, takeHostAndPort } from '../../core/definitions/host-and-port'
import { flagTarget, hostTarget, portTarget, secretTarget, textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'

export interface GrpcTarget {
  host: string
  port: number
  plain: boolean
  unverified: boolean
  /** The service whose health is asked for; empty asks for the server as a whole. */
  service?: string
  /** A unary call instead: the proto file's text, `package.Service/Method`, and the message as JSON. */
  proto?: string
  method?: string
  message?: string
  token?: string
}

const isJson = (text: string) => {
  try {
    return typeof JSON.parse(text) === 'object'
  } catch {
    return text.includes('${')
  }
}

export const grpcDefinition = describeKind<GrpcTarget>({
  kind: 'grpc',
  name: 'a gRPC service',
  family: 'web',
  proves: 'A gRPC server says that a service is serving, or answers one call with what it should.',
  doesNotProve: 'That calls that stream work, nor those that nobody asks for.',
  fields: {
    host: hostTarget(), port: portTarget(443), plain: flagTarget('without TLS'), unverified: flagTarget('take any certificate'), service: textTarget('service whose health is asked for', { most: 300 }),
    proto: textTarget('proto file', { most: 200_000, as: 'lines' }), method: textTarget('method to call', { most: 300, fits: (text) => /^[A-Za-z_][\w.]*\/[A-Za-z_]\w*$/.test(text), expected: 'a method such as package.Service/Method' }),
    message: textTarget('message, as JSON', { most: 200_000, as: 'lines', fits: isJson, expected: 'JSON such as {"id": 7}' }), token: secretTarget('bearer token')
  },
  together: (schema) => schema.test('call', 'a proto file together with a method to call', ({ proto, method }) => (proto === undefined) === (method === undefined)),
  blank: { host: 'address.invalid' },
  addressField: 'host',
  inSentence: ['host', 'port'],
  takeAddress: takeHostAndPort({ grpc: 443, grpcs: 443 }),
  sentence: (target, part) => [
    ...(target.method === undefined
      ? [say('Ask the gRPC server '), part('host', { look: 'code' }), say(' at port '), part('port', { look: 'code' }), say(' for the health of '), target.service === undefined ? { text: 'the whole server', part: 'grpc.more', label: 'service' } : part('service', { look: 'code' })]
      : [say('Call '), part('method', { look: 'code' }), say(' at '), part('host', { look: 'code' }), say(' port '), part('port', { look: 'code' })]),
    ...(target.plain ? [say(' without TLS')] : [])
  ],
  address: (target) => formatHostAndPort(target.host, target.port),
  guess: guessByScheme({ grpc: 443, grpcs: 443 }),
  firstConditions: (target) => (target.plain ? [] : [{ certificate: { min: '3d', warn: '14d' } }]),
  lacks: ({ plain }) => (plain === true ? ['certificate'] : []),
  subjects: ['json', 'text', 'pattern', 'size', 'certificate'],
  facts: { health: { says: 'health' } },
  phases: ['lookup', 'connect', 'tls', 'wait', 'receive']
})
