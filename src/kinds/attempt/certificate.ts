import type { DetailedPeerCertificate, PeerCertificate, TLSSocket } from 'node:tls'
import type { CertificateFacts } from '../../core/observation'
import type { Reason } from '../../core/reasons/reasons'
import { speakLength } from '../../core/definitions/duration'

/** Reads what the server's certificate says and whether this location trusts it. */
export function certificateOf(socket: TLSSocket): CertificateFacts | undefined {
  const certificate = socket.getPeerCertificate()
  if (!certificate || !certificate.valid_to) return undefined
  return {
    subject: String(certificate.subject?.CN ?? ''),
    issuer: String(certificate.issuer?.CN ?? certificate.issuer?.O ?? ''),
    names: (certificate.subjectaltname ?? '').split(', ').map((name) => name.replace(/^(DNS|IP Address):/, '')).filter((name) => name !== ''),
    validFrom: Date.parse(certificate.valid_from),
    validTo: Date.parse(certificate.valid_to),
    fingerprint: certificate.fingerprint256 ?? '',
    protocol: socket.getProtocol() ?? '',
    cipher: socket.getCipher()?.name ?? '',
    trusted: socket.authorized,
    ...(socket.authorized ? {} : { distrust: String(socket.authorizationError ?? '') }),
    ...issuersOf(socket, certificate.fingerprint256 ?? '')
  }
}

/** Issuers by the fingerprint of what they issued: walking a chain costs more than the rest of a certificate, and hardly ever changes. */
const known = new Map<string, { until: number; chain: NonNullable<CertificateFacts['chain']> }>()
const [KNOWN_FOR, KNOWN_MOST] = [10 * 60_000, 2000]

function issuersOf(socket: TLSSocket, fingerprint: string): Pick<CertificateFacts, 'chain'> {
  const now = performance.now()
  let found = known.get(fingerprint)
  if (!found || found.until < now) {
    if (known.size >= KNOWN_MOST) known.clear()
    const chain = chainOf(socket).slice(1).map((each) => ({ subject: nameOf(each.subject), issuer: nameOf(each.issuer), validTo: Date.parse(each.valid_to) }))
    known.set(fingerprint, found = { until: now + KNOWN_FOR, chain })
  }
  return found.chain.length > 0 ? { chain: found.chain } : {}
}

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

/** What a certificate calls somebody. */
export const nameOf = (subject: PeerCertificate['subject'] | undefined) => String(subject?.CN ?? subject?.O ?? 'no name')

/** The reason and the sentence for a certificate that was not accepted. Codes are those of OpenSSL's X509_verify_cert_error. */
export function distrustReason(facts: CertificateFacts | undefined, host: string, now: number): { reason: Reason; sentence: string } {
  const code = facts?.distrust ?? ''
  if (facts && (code === 'CERT_HAS_EXPIRED' || facts.validTo < now)) {
    return { reason: 'certificate-expired', sentence: `the certificate ended ${speakLength(now - facts.validTo)} ago, on ${new Date(facts.validTo).toISOString().slice(0, 10)}` }
  }
  if (facts && (code === 'CERT_NOT_YET_VALID' || facts.validFrom > now)) {
    return { reason: 'certificate-not-yet-valid', sentence: `the certificate begins only on ${new Date(facts.validFrom).toISOString().slice(0, 10)}` }
  }
  if (code === 'ERR_TLS_CERT_ALTNAME_INVALID') {
    return { reason: 'certificate-wrong-name', sentence: `the certificate is for ${facts?.names.slice(0, 3).join(', ') || 'another name'}, not for ${host}` }
  }
  const why: Record<string, string> = {
    DEPTH_ZERO_SELF_SIGNED_CERT: 'it is signed by itself',
    SELF_SIGNED_CERT_IN_CHAIN: 'its chain ends in an authority this location does not know',
    UNABLE_TO_VERIFY_LEAF_SIGNATURE: 'the server does not send the intermediate certificate, or its authority is unknown here',
    UNABLE_TO_GET_ISSUER_CERT: 'the certificate of its issuer is missing',
    UNABLE_TO_GET_ISSUER_CERT_LOCALLY: 'its issuer is not known here',
    CERT_REVOKED: 'it was revoked'
  }
  return { reason: 'certificate-not-trusted', sentence: `the certificate of ${facts?.issuer || 'an unknown issuer'} is not trusted: ${why[code] ?? code.toLowerCase().replaceAll('_', ' ')}` }
}
