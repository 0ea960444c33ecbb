import type { Check } from '../core/definitions/check'
import type { KindDefinition, Kinds } from '../core/definitions/kind'
import { callDefinition } from './call/definition'
import { certificateDefinition } from './certificate/definition'
import { containerDefinition } from './container/definition'
import { derivedDefinition } from './derived/definition'
import { dnsDefinition } from './dns/definition'
import { domainDefinition } from './domain/definition'
import { ftpDefinition } from './ftp/definition'
import { grpcDefinition } from './grpc/definition'
import { httpDefinition } from './http/definition'
import { imapDefinition } from './imap/definition'
import { mailDefinition } from './mail/definition'
import { mqttDefinition } from './mqtt/definition'
import { mysqlDefinition } from './mysql/definition'
import { ntpDefinition } from './ntp/definition'
import { numbersDefinition } from './numbers/definition'
import { pathDefinition } from './path/definition'
import { pingDefinition } from './ping/definition'
import { pop3Definition } from './pop3/definition'
import { postgresDefinition } from './postgres/definition'
import { redisDefinition } from './redis/definition'
import { sequenceDefinition } from './sequence/definition'
import { sipDefinition } from './sip/definition'
import { smtpDefinition } from './smtp/definition'
import { streamDefinition } from './stream/definition'
import { tcpDefinition } from './tcp/definition'
import { udpDefinition } from './udp/definition'
import { websocketDefinition } from './websocket/definition'

const all = [
  httpDefinition, sequenceDefinition, websocketDefinition, grpcDefinition, pingDefinition, tcpDefinition, udpDefinition, pathDefinition, dnsDefinition, certificateDefinition, domainDefinition,
  smtpDefinition, imapDefinition, pop3Definition, mailDefinition,
  ftpDefinition, sipDefinition, streamDefinition, mqttDefinition, ntpDefinition, redisDefinition, mysqlDefinition, postgresDefinition, containerDefinition,
  callDefinition, numbersDefinition, derivedDefinition
] as unknown as KindDefinition<never>[]

/** Every kind of check, by its key in definitions. */
export const kinds: Kinds = Object.fromEntries(all.map((definition) => [definition.kind, definition]))

/** The names of what a try of a check does one after the other; none where its kind has no steps. */
export const stepsOf = ({ kind, target }: Pick<Check, 'kind' | 'target'>): string[] => (kinds[kind] as KindDefinition<unknown> | undefined)?.steps?.(target) ?? []
