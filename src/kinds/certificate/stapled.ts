/** What a stapled answer says of a certificate. */
export type Stapled = 'good' | 'revoked' | 'unknown' | 'unreadable'

interface Item {
  tag: number
  content: Buffer
  end: number
}

/** Reads one value in DER (ITU-T X.690, section 8.1). */
function read(bytes: Buffer, at: number): Item | undefined {
  const tag = bytes[at]
  let length = bytes[at + 1]
  if (tag === undefined || length === undefined) return undefined
  let start = at + 2
  if (length > 128) {
    const count = length - 128
    if (count > 4 || start + count > bytes.length) return undefined
    length = bytes.readUIntBE(start, count)
    start += count
  }
  return start + length > bytes.length ? undefined : { tag, content: bytes.subarray(start, start + length), end: start + length }
}

function children(bytes: Buffer): Item[] {
  const items: Item[] = []
  for (let at = 0; at < bytes.length;) {
    const item = read(bytes, at)
    if (!item) return items
    items.push(item)
    at = item.end
  }
  return items
}

/**
 * Reads the status of the first certificate in a stapled OCSP answer (RFC 6960, section 4.2.1). Its signature is left to
 * clients; here it is what the server claims.
 */
export function stapledStatus(answer: Buffer): Stapled {
  const [response] = children(answer)
  const [status, wrapped] = response ? children(response.content) : []
  if (status?.content[0] !== 0 || !wrapped) return 'unreadable'
  const basic = children(children(wrapped.content)[0]?.content ?? Buffer.alloc(0))[1]
  const data = children(children(basic?.content ?? Buffer.alloc(0))[0]?.content ?? Buffer.alloc(0))[0]
  const responses = children(data?.content ?? Buffer.alloc(0)).find((item) => item.tag === 0x30 && children(item.content)[0]?.tag === 0x30)
  const single = children(responses?.content ?? Buffer.alloc(0))[0]
  const certificateStatus = children(single?.content ?? Buffer.alloc(0))[1]
  switch (certificateStatus && certificateStatus.tag & 0x1f) {
    case 0: return 'good'
    case 1: return 'revoked'
    case 2: return 'unknown'
    default: return 'unreadable'
  }
}
