import { certificateRunner } from './certificate/run'
import { dnsRunner } from './dns/run'
import { domainRunner } from './domain/run'
import { runHttp } from './http/run'
import { pathRunner } from './path/run'
import { pingRunner } from './ping/run'
import type { KindRunner } from './runner'
import { tcpRunner } from './tcp/run'
import { udpRunner } from './udp/run'

/** How every kind runs, by its key in definitions. */
export const runners = {
  http: { run: runHttp }, ping: pingRunner, tcp: tcpRunner, udp: udpRunner, path: pathRunner, dns: dnsRunner, certificate: certificateRunner, domain: domainRunner
} as unknown as Record<string, KindRunner>
