import type { Browser } from 'playwright-core'
import { access, api, emptyUrl, findings, launch, ownServer, signedIn, tray, until } from './system'

let browser: Browser
beforeAll(async () => { browser = await launch() })
afterAll(() => browser.close())

describe('from an address to a caught outage', () => {
  it('is added in the editor, breaks, is told by mail and push, taken, mended and closed', async () => {
    const server = await ownServer()
    const { page, context } = await signedIn(browser)
    await page.keyboard.press('n')
    await page.waitForURL('**/checks/new')
    await page.getByRole('textbox', { name: 'address' }).fill(`${server.url}`)
    await page.keyboard.press('Enter')
    await page.getByText('12 of 12').or(page.getByText(/tried \d+ s ago/)).first().waitFor()
    await page.getByText('It would start as Up').waitFor()
    expect(await page.getByText('720 requests an hour').count()).toBe(1)
    await page.getByRole('button', { name: '"Fulmar"' }).click()
    await page.getByText('condition 2').waitFor()
    await page.locator('[data-part="every"]').click()
    await page.getByRole('textbox', { name: 'how often' }).fill('10 s')
    await page.keyboard.press('Enter')
    await page.locator('[data-part="down.apart"]').click()
    await page.getByRole('textbox', { name: 'pause between tries' }).fill('1 s')
    await page.keyboard.press('Enter')
    await page.locator('[data-part="name"]').click()
    await page.getByRole('textbox', { name: 'name', exact: true }).fill('My own server')
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'Start watching' }).click()
    await page.waitForURL('**/checks/my-own-server')
    await page.getByRole('heading', { name: 'My own server' }).waitFor()
    await page.locator('td', { hasText: /^passing/ }).nth(11).waitFor({ timeout: 20_000 })

    server.break(503)
    const brokenAt = Date.now()
    await page.getByRole('link', { name: 'Open the incident' }).waitFor({ timeout: 40_000 })
    const state = (await api('GET', '/checks/my-own-server')).body.state as { state: string; since: string }
    expect(state.state).toBe('down')
    const changes = (await api('GET', '/incidents?check=my-own-server')).body.incidents as { openedAt: string; since: string; lastPass: string }[]
    const [opened, since] = [Date.parse(changes[0]!.openedAt), Date.parse(changes[0]!.since)]
    expect(since).toBeGreaterThanOrEqual(brokenAt - 50)
    expect(opened - since).toBeLessThan(1000 + 2000 + 500)
    await page.getByRole('link', { name: 'Open the incident' }).click()
    await page.getByRole('heading', { name: /My own server is down: the status is 503/ }).waitFor()
    await page.getByText('Called down').waitFor()
    await page.getByText('503 Service Unavailable').waitFor()
    const told = await until('mail and push', async () => {
      const { messages } = await tray()
      const own = messages.filter((message) => message.subject === 'My own server is down')
      return own.some((each) => each.by === 'mail') && own.some((each) => each.by === 'push') && own.some((each) => each.by === 'webhook') && own
    })
    expect(told.find((each) => each.by === 'mail')!.text).toMatch(/the status is 503[\s\S]*locations[\s\S]*Since/)
    expect(await findings(page)).toEqual([])
    await page.keyboard.press('t')
    await page.getByText('Ines Falk took it').waitFor()
    const today = await context.newPage()
    await today.goto('/')
    await today.getByRole('heading', { name: 'Ines holds My own server.' }).waitFor()
    await today.close()
    await page.getByRole('textbox', { name: 'Write a note' }).fill('Restarting it')
    await page.getByRole('button', { name: 'Add the note' }).click()
    await page.getByText('Restarting it').waitFor()

    server.break('mended')
    await page.getByText('Up again').first().waitFor({ timeout: 40_000 })
    await page.getByRole('heading', { name: /My own server was down/ }).waitFor()
    const over = await until('news of the end', async () => (await tray()).messages.find((message) => message.subject === 'Up again: My own server' && message.by === 'mail'))
    expect(over.text).toContain('It lasted')
    server.close()
    await api('DELETE', '/checks/my-own-server')
    await context.close()
  })

  it('shows a clear reason for each mistake before anything is saved', async () => {
    const { page, context } = await signedIn(browser)
    const before = ((await api('GET', '/checks')).body.checks as unknown[]).length
    await page.goto('/checks/new')
    const tryAddress = async (address: string, reason: RegExp) => {
      await page.locator('[data-part="http.url"]').waitFor()
      if (!(await page.getByRole('textbox', { name: 'address' }).isVisible())) await page.locator('[data-part="http.url"]').click()
      await page.getByRole('textbox', { name: 'address' }).fill(address)
      await page.keyboard.press('Enter')
      await page.getByText(reason).first().waitFor({ timeout: 20_000 })
    }
    await tryAddress('https://book.orrinsound.example/api/sailing', /status 404/)
    await tryAddress('https://nowhere.orrinsound.example/', /NXDOMAIN/)
    await tryAddress('https://198.51.100.20/', /certificate is for another name/)
    await tryAddress('http://127.0.0.1:9/', /connection refused/)
    await page.locator('[data-part="http.url"]').click()
    await page.getByRole('textbox', { name: 'address' }).fill('not an address')
    await page.keyboard.press('Enter')
    await page.getByText('Expected an address').waitFor()
    expect(((await api('GET', '/checks')).body.checks as unknown[]).length).toBe(before)
    await context.close()
  })

  it('tells the later of two people who edit the same check, and keeps the first one’s work', async () => {
    const server = await ownServer()
    await api('POST', '/checks', { check: 'shared', name: 'Shared', http: { url: server.url }, every: '1h', from: ['bergen'] })
    const { page, context } = await signedIn(browser)
    await page.goto('/checks/shared/edit')
    await page.locator('[data-part="every"]').waitFor()
    await api('PUT', '/checks/shared', { check: 'shared', name: 'Shared', http: { url: server.url }, every: '2h', from: ['bergen'] })
    await page.locator('[data-part="wait"]').click()
    await page.getByRole('textbox', { name: 'how long to wait' }).fill('5 s')
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'Save' }).click()
    await page.getByText(/saved version 2 while you were editing version 1/).waitFor()
    expect((await api('GET', '/checks/shared')).body).toMatchObject({ definition: { every: '2h' } })
    await api('DELETE', '/checks/shared')
    server.close()
    await context.close()
  })
})

describe('every main view', () => {
  const views = ['/', '/checks', '/checks/sailings-api', '/checks/new', '/incidents', '/routing', '/settings', '/account', '/drills']
  it.each(['light', 'dark'] as const)('reaches WCAG AA in the %s theme', async (colorScheme) => {
    const { page, context } = await signedIn(browser, { colorScheme })
    for (const view of views) {
      await page.goto(view)
      await page.waitForTimeout(700)
      expect([view, await findings(page)]).toEqual([view, []])
    }
    await context.close()
  })

  it('works at phone width for incidents, without anything beside the screen', async () => {
    const { page, context } = await signedIn(browser, { viewport: { width: 390, height: 844 } })
    await page.goto('/incidents')
    await page.locator('table a').first().click()
    await page.waitForURL('**/incidents/*')
    await page.getByText('What happened').waitFor()
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
    await context.close()
  })

  it('finds anything with Ctrl K, lists keys with ?, and says when the connection is lost', async () => {
    const { page, context } = await signedIn(browser)
    await page.keyboard.press('Control+k')
    await page.getByPlaceholder('Find or do anything').fill('Tide station')
    await page.keyboard.press('Enter')
    await page.waitForURL('**/checks/tide-station')
    await page.getByPlaceholder('Find or do anything').waitFor({ state: 'hidden' })
    await page.keyboard.press('?')
    await page.getByRole('dialog', { name: 'Keys' }).waitFor()
    await page.keyboard.press('Escape')
    await page.route('**/api/live', (route) => route.abort())
    await page.reload()
    await page.getByText('The connection to Hemeron is lost').waitFor({ timeout: 15_000 })
    await context.close()
  })
})

describe('an empty workspace', () => {
  it('begins with the first account and leads to the first check, on the real network', async () => {
    const server = await ownServer()
    const context = await browser.newContext({ baseURL: emptyUrl })
    const page = await context.newPage()
    await page.goto('/')
    await page.waitForURL('**/first')
    await page.getByLabel('Your name').fill('Ada Brandvold')
    await page.getByLabel('Mail address').fill('ada@skarvoy.example')
    await page.locator('input[type=password]').fill('a long password')
    await page.getByRole('button', { name: 'Begin' }).click()
    await page.getByText('Nothing is watched yet.').waitFor()
    expect(await findings(page)).toEqual([])
    await page.getByRole('link', { name: 'Watch the first address' }).click()
    await page.getByRole('textbox', { name: 'address' }).fill(server.url)
    await page.keyboard.press('Enter')
    await page.getByText('It would start as Up').waitFor({ timeout: 20_000 })
    await page.getByRole('button', { name: 'Start watching' }).click()
    await page.locator('td', { hasText: /^passing/ }).waitFor({ timeout: 20_000 })
    server.close()
    await context.close()
  })

  it('lets nobody in with a wrong password, and slows guessing down', async () => {
    const context = await browser.newContext({ baseURL: access.url })
    const page = await context.newPage()
    await page.goto('/checks')
    await page.waitForURL('**/sign-in')
    for (let attempt = 0; attempt < 9; attempt += 1) {
      await page.getByLabel('Mail address').fill('guess@orrinsound.example')
      await page.locator('input[type=password]').fill(`guess ${attempt}`)
      await page.getByRole('button', { name: 'Sign in' }).click()
      await page.getByText(/is wrong|Too many/).waitFor()
      await page.waitForTimeout(250)
    }
    await page.getByText('Too many attempts').waitFor()
    await context.close()
  })
})
