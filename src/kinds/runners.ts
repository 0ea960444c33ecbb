import { callRunner } from './call/run'
import { certificateRunner } from './certificate/run'
import { containerRunner } from './container/run'
import { derivedRunner } from './derived/run'
import { dnsRunner } from './dns/run'
import { domainRunner } from './domain/run'
import { ftpRunner } from './ftp/run'
import { grpcRunner } from './grpc/run'
import { runHttp } from './http/run'
import { imapRunner } from './imap/run'
import { mailRunner } from './mail/run'
import { mqttRunner } from './mqtt/run'
import { mysqlRunner } from './mysql/run'
import { ntpRunner } from './ntp/run'
import { numbersRunner } from './numbers/run'
import { pathRunner } from './path/run'
import { pingRunner } from './ping/run'
import { pop3Runner } from './pop3/run'
import { postgresRunner } from './postgres/run'
import { redisRunner } from './redis/run'
import type { KindRunner } from './runner'
import { sequenceRunner } from './sequence/run'
import { sipRunner } from './sip/run'
import { smtpRunner } from './smtp/run'
import { streamRunner } from './stream/run'
import { tcpRunner } from './tcp/run'
import { udpRunner } from './udp/run'
import { websocketRunner } from './websocket/run'

/** How every kind runs, by its key in definitions. */
export const runners = {
  http: { run: runHttp }, sequence: sequenceRunner, websocket: websocketRunner, grpc: grpcRunner, ping: pingRunner, tcp: tcpRunner, udp: udpRunner, path: pathRunner, dns: dnsRunner, certificate: certificateRunner, domain: domainRunner,
  smtp: smtpRunner, imap: imapRunner, pop3: pop3Runner, mail: mailRunner,
  ftp: ftpRunner, sip: sipRunner, stream: streamRunner, mqtt: mqttRunner, ntp: ntpRunner, redis: redisRunner, mysql: mysqlRunner, postgres: postgresRunner, container: containerRunner,
  call: callRunner, numbers: numbersRunner, derived: derivedRunner
} as unknown as Record<string, KindRunner>
