import { AxeBuilder } from '@axe-core/playwright'
import { readFileSync } from 'node:fs'
import http from 'node:http'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { chromium, type Browser, type BrowserContext, type Page } from 'playwright-core'

export const home = process.env.HEMERON_TEST_HOME!
export const access = JSON.parse(readFileSync(join(home, 'demo.json'), 'utf8')) as { url: string; mail: string; password: string; token: string }
export const emptyUrl = process.env.HEMERON_TEST_EMPTY!

export const launch = (): Promise<Browser> => chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync']
})

/** A page of someone who is signed in to the demo. */
export async function signedIn(browser: Browser, options: Parameters<Browser['newContext']>[0] = {}): Promise<{ context: BrowserContext; page: Page }> {
  const context = await browser.newContext({ baseURL: access.url, viewport: { width: 1280, height: 800 }, ...options })
  const page = await context.newPage()
  await page.goto('/sign-in')
  await page.getByLabel('Mail address').fill(access.mail)
  await page.locator('input[type=password]').fill(access.password)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.waitForURL(`${access.url}/`)
  return { context, page }
}

/** What axe finds on a page against WCAG A and AA, in words. */
export async function findings(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21aa']).analyze()
  return violations.map((each) => `${each.id}: ${each.nodes.slice(0, 3).map((node) => node.html.slice(0, 160)).join(' | ')}`)
}

/** Tests that axe finds nothing on views, in both themes; each view is a test with its own time, since axe takes long on a slow machine. */
export function reachesWcag(browser: () => Browser, views: string[]): void {
  describe.each(['light', 'dark'] as const)('reaches WCAG AA in the %s theme', (colorScheme) => {
    let seen: { page: Page; context: BrowserContext }
    beforeAll(async () => { seen = await signedIn(browser(), { colorScheme }) })
    afterAll(() => seen.context.close())
    it.each(views)('on %s', async (view) => {
      await seen.page.goto(view)
      await seen.page.waitForTimeout(700)
      expect(await findings(seen.page)).toEqual([])
    })
  })
}

/** Asks the API with the demo's token. */
export async function api(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<{ status: number; body: Record<string, unknown>; headers: Headers }> {
  const answer = await fetch(`${access.url}/api/v1${path}`, {
    method, headers: { authorization: `Bearer ${access.token}`, ...(body === undefined ? {} : { 'content-type': 'application/json' }), ...headers }, ...(body === undefined ? {} : { body: JSON.stringify(body) })
  })
  const text = await answer.text()
  return { status: answer.status, body: (text === '' ? {} : JSON.parse(text)) as never, headers: answer.headers }
}

/** A server of the operator's own, on this machine, that can be broken and mended. */
export async function ownServer(): Promise<{ url: string; break: (how: number | 'mended') => void; requests: () => number; close: () => void }> {
  let status: number | 'mended' = 'mended'
  let requests = 0
  const server = http.createServer((_request, response) => {
    requests += 1
    if (status === 'mended') response.setHeader('content-type', 'application/json').end('{"ship":"Fulmar","open":true,"queue":4}')
    else response.writeHead(status).end('broken')
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return { url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/`, break: (how) => { status = how }, requests: () => requests, close: () => server.close() }
}

/** A local time of the demo's zone, some days before today. */
export const localTime = (days: number, clock: string) => `${new Intl.DateTimeFormat('sv-SE', { timeZone: 'Europe/Oslo' }).format(Date.now() - days * 86_400_000)}T${clock}`

/** Types into a part of a sentence. */
export async function changePart(page: Page, part: string, text: string): Promise<void> {
  await page.locator(`[data-part="${part}"]`).click()
  await page.getByRole('dialog').getByRole('textbox').fill(text)
  await page.keyboard.press('Enter')
}

/** Looks again until something is there, or fails after a time in words. */
export async function until<Found>(what: string, look: () => Promise<Found | undefined | false>, within = 30_000): Promise<Found> {
  const end = Date.now() + within
  for (;;) {
    const found = await look()
    if (found) return found
    if (Date.now() > end) throw new Error(`${what} did not happen within ${within / 1000} s`)
    await sleep(150)
  }
}

/** Tells everyone of some checks at once, whatever the hour: a test must not wait for the end of anybody's quiet hours. Gives what takes the route away. */
export async function toldToAll(checks: string[], by = ['push', 'mail']): Promise<() => Promise<void>> {
  const route = `all-of-${checks[0]!}`
  const { status } = await api('PUT', `/routing/route/${route}`, { route, place: 1, when: { check: checks }, then: [{ tell: 'everyone', by }], urgent: true })
  if (status !== 200) throw new Error(`the route was not taken: ${status}`)
  return async () => void (await api('DELETE', `/routing/route/${route}`))
}

export interface Tray { messages: { key: string; by: string; to: string; subject: string; text: string; at: number; link?: string; call?: boolean }[]; count: number; repeats: number }

/** The control address of the demo's world. */
export const world = () => `http://127.0.0.1:${(JSON.parse(readFileSync(join(home, 'demo/ports.json'), 'utf8')) as { world: number }).world}`

/** What arrived at the demo's receivers. */
export async function tray(): Promise<Tray> {
  return (await (await fetch(`${world()}/tray?limit=5000`)).json()) as Tray
}
