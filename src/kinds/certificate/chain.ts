import type { DetailedPeerCertificate, PeerCertificate, TLSSocket } from 'node:tls'
import type { EvidenceTable } from '../../core/observation'

/** The certificates a server sent, its own first; each issuer follows what it has signed. */
export function chainOf(socket: TLSSocket): PeerCertificate[] {
  const chain: PeerCertificate[] = []
  let next: DetailedPeerCertificate | undefined = socket.getPeerCertificate(true)
  while (next && next.fingerprint256 && chain.length < 10 && !chain.some((each) => each.fingerprint256 === next!.fingerprint256)) {
    chain.push(next)
    next = next.issuerCertificate
  }
  return chain
}

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

/** What a certificate calls somebody. */
export const nameOf = (subject: PeerCertificate['subject'] | undefined) => String(subject?.CN ?? subject?.O ?? 'no name')
