import type { PeerCertificate } from 'node:tls'
import type { EvidenceTable } from '../../core/observation'
import { nameOf } from '../attempt/certificate'

/** What kind of key a certificate has, and how long it is in bits. */
export function keyOf(certificate: PeerCertificate): { kind: string; bits?: number } {
  const bits = certificate.bits
  const kind = certificate.asn1Curve ? `EC ${certificate.asn1Curve}` : certificate.modulus ? 'RSA' : 'unknown'
  return { kind, ...(bits === undefined ? {} : { bits }) }
}

export function chainTable(chain: PeerCertificate[]): EvidenceTable {
  return {
    title: 'The chain', columns: [{ name: 'certificate' }, { name: 'issued by' }, { name: 'until' }, { name: 'key' }],
    rows: chain.map((certificate) => {
      const { kind, bits } = keyOf(certificate)
      return [nameOf(certificate.subject), nameOf(certificate.issuer), new Date(certificate.valid_to).toISOString().slice(0, 10), `${kind}${bits === undefined ? '' : `, ${bits} bits`}`]
    })
  }
}
