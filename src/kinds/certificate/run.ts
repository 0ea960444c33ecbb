import type { PeerCertificate } from 'node:tls'
import { runnerOf } from '../attempt/attempt'
import { chainOf } from '../attempt/certificate'
import { TryFailure } from '../attempt/failure'
import { Reader } from '../attempt/reader'
import { BEFORE_TLS, speaker } from '../attempt/starttls'
import { chainTable, keyOf } from './chain'
import { certificateDefinition } from './definition'
import { stapledStatus } from './stapled'

export const certificateRunner = runnerOf(certificateDefinition, async ({ host, port, starttls, name }, trying) => {
  const plain = await trying.open({ host, port })
  if (starttls) {
    trying.begin('greet')
    await BEFORE_TLS[starttls](new Reader(plain, trying.signal), speaker(plain, trying.talk), trying.talk)
    plain.removeAllListeners('data')
  }
  let stapled: Buffer | undefined
  let chain: PeerCertificate[] | undefined
  let distrust: TryFailure | undefined
  try {
    await trying.secure(plain, host, {
      verify: true, ...(name === undefined ? {} : { name }), requestStapled: (answer) => { stapled = answer }, shaken: (socket) => { chain = chainOf(socket) }
    })
  } catch (error) {
    if (!(error instanceof TryFailure) || !chain) throw error
    distrust = error
  }
  chain ??= []
  const first = chain[0]
  const { kind, bits } = first ? keyOf(first) : { kind: 'unknown', bits: undefined }
  const { certificate } = trying.found
  const status = stapled === undefined ? undefined : stapledStatus(stapled)
  trying.evidence.facts = [['key', `${kind}${bits === undefined ? '' : `, ${bits} bits`}`], ['fingerprint', certificate?.fingerprint ?? ''], ['stapled answer', status ?? 'none']]
  trying.evidence.tables = [chainTable(chain)]
  if (distrust) throw distrust
  if (status === 'revoked') throw new TryFailure('certificate-not-trusted', 'the server itself staples an answer that says the certificate was revoked')
  trying.noted.protocol = certificate?.protocol ?? ''
  return {
    readings: { length: chain.length, ...(bits === undefined ? {} : { bits }), ...(chain.length > 0 ? { chain: Math.min(...chain.map((each) => Date.parse(each.valid_to))) - Date.now() } : {}) },
    facts: {
      names: certificate?.names ?? [], issuer: certificate ? [certificate.issuer] : [], protocol: certificate ? [certificate.protocol] : [], cipher: certificate ? [certificate.cipher] : [], key: [kind],
      stapled: status === undefined ? [] : [status], fingerprint: certificate ? [certificate.fingerprint] : []
    }
  }
})
