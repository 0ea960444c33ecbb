/**
 * The closed list of reasons for which an observation fails, whatever its kind. `short` stands in tables,
 * `party` is who in the chain the reason points at before anything else is known.
 */
export const REASONS = {
  'name-not-found': { short: 'name not found', party: 'name service' },
  'lookup-failed': { short: 'lookup failed', party: 'name service' },
  'address-not-allowed': { short: 'address not allowed', party: 'location' },
  unreachable: { short: 'unreachable', party: 'network' },
  'connection-refused': { short: 'connection refused', party: 'origin' },
  'connection-closed': { short: 'connection closed', party: 'origin' },
  'timed-out-lookup': { short: 'timed out at lookup', party: 'name service' },
  'timed-out-connect': { short: 'timed out at connect', party: 'network' },
  'timed-out-greet': { short: 'timed out at greeting', party: 'origin' },
  'timed-out-login': { short: 'timed out at sign-in', party: 'origin' },
  'timed-out-send': { short: 'timed out at sending', party: 'origin' },
  'timed-out-remove': { short: 'timed out at clean-up', party: 'origin' },
  'timed-out-tls': { short: 'timed out at tls', party: 'origin' },
  'timed-out-wait': { short: 'timed out at wait', party: 'origin' },
  'timed-out-receive': { short: 'timed out at receive', party: 'origin' },
  'tls-failed': { short: 'TLS failed', party: 'origin' },
  'certificate-expired': { short: 'certificate expired', party: 'origin' },
  'certificate-not-yet-valid': { short: 'certificate not yet valid', party: 'origin' },
  'certificate-wrong-name': { short: 'certificate is for another name', party: 'origin' },
  'certificate-not-trusted': { short: 'certificate not trusted', party: 'origin' },
  'not-http': { short: 'answer is not HTTP', party: 'origin' },
  'no-answer': { short: 'no answer', party: 'network' },
  'no-record': { short: 'no such record', party: 'name service' },
  'wrong-protocol': { short: 'another protocol answers', party: 'origin' },
  'no-tls': { short: 'no TLS offered', party: 'origin' },
  'bad-answer': { short: 'answer cannot be read', party: 'origin' },
  'answer-too-large': { short: 'answer too large', party: 'origin' },
  'server-refused': { short: 'the server refuses', party: 'origin' },
  'server-failed': { short: 'the server reports a fault', party: 'origin' },
  'login-refused': { short: 'sign-in refused', party: 'definition' },
  'not-arrived': { short: 'did not arrive', party: 'origin' },
  'came-back-changed': { short: 'came back changed', party: 'origin' },
  'not-advancing': { short: 'does not advance', party: 'origin' },
  'not-running': { short: 'not running', party: 'origin' },
  'not-supported': { short: 'not possible from here', party: 'location' },
  'call-awaited': { short: 'no call yet', party: 'origin' },
  'call-late': { short: 'call is late', party: 'origin' },
  'call-missing': { short: 'calls are missing', party: 'origin' },
  'call-failed': { short: 'the job failed', party: 'origin' },
  'call-too-long': { short: 'the job takes too long', party: 'origin' },
  'call-overlaps': { short: 'runs overlap', party: 'origin' },
  'numbers-awaited': { short: 'no numbers yet', party: 'origin' },
  'numbers-stopped': { short: 'numbers have stopped', party: 'origin' },
  'host-silent': { short: 'the host is silent', party: 'hosting' },
  'too-few-up': { short: 'too few are up', party: 'origin' },
  'cannot-tell': { short: 'cannot be told', party: 'location' },
  'headers-too-large': { short: 'headers too large', party: 'origin' },
  'body-too-large': { short: 'body too large', party: 'origin' },
  'body-unreadable': { short: 'body cannot be decoded', party: 'origin' },
  'too-many-redirects': { short: 'too many redirects', party: 'origin' },
  'bad-redirect': { short: 'redirect leads nowhere', party: 'origin' },
  status: { short: 'status', party: 'origin' },
  condition: { short: 'condition', party: 'origin' },
  slow: { short: 'slow', party: 'origin' },
  'turned-round': { short: 'it answered, and should not', party: 'origin' },
  'bad-definition': { short: 'the check cannot be run as written', party: 'definition' },
  'variable-missing': { short: 'a variable is missing', party: 'definition' },
  'line-away': { short: 'the location has lost its line', party: 'location' },
  'probe-fault': { short: 'the probe itself failed', party: 'location' }
} as const

export type Reason = keyof typeof REASONS

/** The short words for a reason code as stored, for tables and titles; unknown codes are shown as they are. */
export function shortReason(code: string | undefined | null): string {
  if (!code) return ''
  return (REASONS as Record<string, { short: string }>)[code]?.short ?? code
}
