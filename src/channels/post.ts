/** Posts to a service that passes messages on. Redirects are not followed: they could lead anywhere. */
export async function post(url: string, body: string, headers: Record<string, string>): Promise<string> {
  const { host } = new URL(url)
  const response = await fetch(url, { method: 'POST', body, redirect: 'error', signal: AbortSignal.timeout(12_000), headers: { 'user-agent': 'Hemeron/0.1', ...headers } }).catch((error: unknown) => {
    throw new Error(`${host} cannot be reached: ${(error as { cause?: Error }).cause?.message ?? (error as Error).message}`)
  })
  const answer = (await response.text()).slice(0, 200)
  if (!response.ok) throw new Error(`${host} answers ${response.status} ${answer}`.trim())
  return `${response.status} ${answer}`.trim()
}
