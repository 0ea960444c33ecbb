import type { KindDefinition, Kinds } from '../core/definitions/kind'
import { certificateDefinition } from './certificate/definition'
import { dnsDefinition } from './dns/definition'
import { domainDefinition } from './domain/definition'
import { grpcDefinition } from './grpc/definition'
import { httpDefinition } from './http/definition'
import { imapDefinition } from './imap/definition'
import { mailDefinition } from './mail/definition'
import { pathDefinition } from './path/definition'
import { pingDefinition } from './ping/definition'
import { pop3Definition } from './pop3/definition'
import { smtpDefinition } from './smtp/definition'
import { tcpDefinition } from './tcp/definition'
import { udpDefinition } from './udp/definition'
import { websocketDefinition } from './websocket/definition'

const all = [
  httpDefinition, websocketDefinition, grpcDefinition, pingDefinition, tcpDefinition, udpDefinition, pathDefinition, dnsDefinition, certificateDefinition, domainDefinition,
  smtpDefinition, imapDefinition, pop3Definition, mailDefinition
] as unknown as KindDefinition<never>[]

/** Every kind of check, by its key in definitions. */
export const kinds: Kinds = Object.fromEntries(all.map((definition) => [definition.kind, definition]))
