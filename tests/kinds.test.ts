import type { Browser, Page } from 'playwright-core'
import { api, findings, launch, signedIn, until } from './system'

let browser: Browser
beforeAll(async () => { browser = await launch() })
afterAll(() => browser.close())

/** Opens a new check of another kind, found by typing. */
async function begin(page: Page, words: string): Promise<void> {
  await page.goto('/checks/new')
  await page.locator('[data-part="kind"]').waitFor()
  await page.keyboard.press('Escape')
  await page.locator('[data-part="kind"]').click()
  await page.getByRole('textbox', { name: 'Look for a kind' }).fill(words)
  await page.keyboard.press('Enter')
}

async function fill(page: Page, part: string, label: string, text: string): Promise<void> {
  const field = page.getByRole('textbox', { name: label, exact: true })
  if (!(await field.isVisible())) await page.locator(`[data-part="${part}"]`).click()
  await field.fill(text)
  await page.keyboard.press('Enter')
}

describe('checks of other kinds', () => {
  it('a name is watched from the root, with every server that was asked to be seen', async () => {
    const { page, context } = await signedIn(browser)
    await begin(page, 'dns')
    await fill(page, 'dns.name', 'name', 'tickets.orrinsound.example')
    await page.getByText('It would start as Up').waitFor({ timeout: 30_000 })
    await page.getByRole('button', { name: /^\+ resolver/ }).click()
    await page.getByRole('checkbox', { name: 'Step by step from the root' }).check()
    await page.getByText('ns2.orrinsound.example').first().waitFor({ timeout: 30_000 })
    await page.getByText('ask the servers of example').first().waitFor()
    expect(await page.getByText('step by step from the root').first().isVisible()).toBe(true)
    expect(await findings(page)).toEqual([])
    await page.locator('[data-part="name"]').click()
    await page.getByRole('textbox', { name: 'name', exact: true }).last().fill('Tickets from the root')
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'Start watching' }).click()
    await page.waitForURL('**/checks/tickets-from-the-root')
    await page.locator('td', { hasText: /^passing/ }).nth(5).waitFor({ timeout: 30_000 })
    const { definition } = (await api('GET', '/checks/tickets-from-the-root')).body as { definition: Record<string, unknown> }
    expect(definition).toMatchObject({ dns: { name: 'tickets.orrinsound.example', walk: true }, pass: [{ values: { count: { min: 1 } } }] })
    await api('DELETE', '/checks/tickets-from-the-root')
    await context.close()
  })

  it('a wrong password is said before the check is saved', async () => {
    const { page, context } = await signedIn(browser)
    await begin(page, 'redis')
    await fill(page, 'redis.host', 'host', 'cache.orrinsound.example:6379')
    await page.getByText('sign in first').first().waitFor({ timeout: 30_000 })
    await page.getByRole('button', { name: /^\+ TLS|^\+ over TLS/ }).click()
    await page.getByRole('textbox', { name: 'Password' }).fill('demo-cache')
    await page.getByRole('textbox', { name: 'User' }).click()
    await page.getByText('It would start as Up').waitFor({ timeout: 30_000 })
    await page.getByText('PONG').first().waitFor()
    await context.close()
  })

  it('every kind of the demo world answers', async () => {
    const waiting = await until('every kind up', async () => {
      const { checks } = (await api('GET', '/checks?limit=200')).body as { checks: { definition: Record<string, unknown>; state: { state: string; newestObservation: string | null } | null }[] }
      const kinds = ['ping', 'tcp', 'udp', 'path', 'dns', 'certificate', 'domain', 'smtp', 'mail', 'ftp', 'sip', 'stream', 'mqtt', 'ntp', 'redis', 'mysql', 'container', 'websocket', 'grpc', 'sequence']
      const up = new Set(checks.filter((check) => check.state?.state === 'up' || check.state?.state === 'warning').flatMap((check) => Object.keys(check.definition)))
      return kinds.every((kind) => up.has(kind)) && kinds
    }, 90_000)
    expect(waiting).toHaveLength(20)
  })
})
