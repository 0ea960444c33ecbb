/** An absolute http or https address without a user name in it (those belong into `auth`). */
export function isHttpUrl(value: unknown): boolean {
  if (typeof value !== 'string' || value.length > 2000 || /[\s<>"`{}|\\^]/.test(value) || !URL.canParse(value)) return false
  const url = new URL(value)
  return (url.protocol === 'http:' || url.protocol === 'https:') && url.hostname !== '' && url.username === '' && url.password === ''
}
