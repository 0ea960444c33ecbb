import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto'

const [NONCE, MARK] = [12, 16]

/** The key of this installation: 32 bytes in Base64 in HEMERON_KEY, kept outside the database. */
export function installationKey(): Buffer {
  const key = Buffer.from(process.env.HEMERON_KEY ?? '', 'base64')
  if (key.length !== 32) throw new Error('HEMERON_KEY must hold 32 bytes in Base64.')
  return key
}

/** Seals a value with AES-256-GCM (NIST SP 800-38D) for one place and name; it cannot be opened as another. */
export function seal(value: string, binding: string): Buffer {
  const nonce = randomBytes(NONCE)
  const cipher = createCipheriv('aes-256-gcm', installationKey(), nonce).setAAD(Buffer.from(binding))
  const sealed = Buffer.concat([cipher.update(value, 'utf8'), cipher.final()])
  return Buffer.concat([nonce, cipher.getAuthTag(), sealed])
}

/** Opens what `seal` made. Throws when the key, the binding or the content is another. */
export function unseal(sealed: Buffer, binding: string): string {
  const cipher = createDecipheriv('aes-256-gcm', installationKey(), sealed.subarray(0, NONCE)).setAAD(Buffer.from(binding)).setAuthTag(sealed.subarray(NONCE, NONCE + MARK))
  return Buffer.concat([cipher.update(sealed.subarray(NONCE + MARK)), cipher.final()]).toString('utf8')
}
