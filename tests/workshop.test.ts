import type { Browser } from 'playwright-core'
import { api, findings, reachesWcag, launch, ownServer, signedIn, toldToAll, tray, until, world } from './system'

let browser: Browser
beforeAll(async () => { browser = await launch() })
afterAll(() => browser.close())

type Json = Record<string, unknown>
const checks = async () => (await api('GET', '/checks')).body.checks as { definition: Json; effective: Json; state: { state: string } }[]
const state = async (key: string) => ((await api('GET', `/checks/${key}`)).body.state as { state: string }).state

describe('fifty addresses in an afternoon', () => {
  it('are pasted, tried together, and watched from the clipboard on; one undo takes them back', async () => {
    const server = await ownServer()
    const before = (await checks()).length
    const { page, context } = await signedIn(browser)
    await page.goto('/many')
    const lines = [...Array.from({ length: 46 }, (_, index) => `Ship ${index}; ${server.url}ship/${index}`), `${server.url}ship/3`, 'https://book.orrinsound.example/api/sailings', 'https://nowhere.orrinsound.example/', 'just rubbish']
    const begun = Date.now()
    await page.getByRole('textbox', { name: 'Addresses, one a line' }).fill(lines.join('\n'))
    await page.getByRole('button', { name: 'Try them all' }).click()
    await page.getByRole('heading', { name: '46 of 50 pass. 1 fail, 2 are there twice, 1 cannot be read' }).waitFor({ timeout: 40_000 })
    const rows = page.getByRole('table', { name: 'Pasted addresses' }).getByRole('row')
    await rows.nth(1).getByText('line 50: an address has no spaces').waitFor()
    await rows.nth(2).getByText(/NXDOMAIN|does not exist/).waitFor()
    await rows.nth(3).getByText('the same as line 4').waitFor()
    await rows.nth(4).getByText('watched already: Sailings API').waitFor()
    await page.getByRole('textbox', { name: 'Tags, line 1', exact: true }).fill('fleet')
    await page.keyboard.press('Control+d')
    await page.getByRole('button', { name: 'Start the 46 that pass' }).click()
    await page.waitForURL('**/checks')
    expect(Date.now() - begun).toBeLessThan(60_000)
    const added = (await checks()).filter((check) => String(check.definition.name).startsWith('Ship '))
    expect(added).toHaveLength(46)
    expect(added.every((check) => JSON.stringify(check.definition.tags) === '["fleet"]')).toBe(true)
    await until('a first observation', async () => (await state('ship-0')) === 'up')
    await page.getByRole('button', { name: 'Undo' }).click()
    await page.getByText('It is as it was before.').waitFor()
    expect(await checks()).toHaveLength(before)
    server.close()
    await context.close()
  })
})

describe('changing many at once', () => {
  it('filters, chooses with Shift, previews exactly what changes, tags, and undoes', async () => {
    const { page, context } = await signedIn(browser)
    await page.goto('/checks?service=harbour-data&kind=http&sort=name')
    await page.getByText(/^4 of \d+$/).waitFor()
    await page.getByRole('checkbox', { name: 'Choose Berth status' }).click()
    await page.getByRole('checkbox', { name: 'Choose Tide station, live' }).click({ modifiers: ['Shift'] })
    await page.getByText('4 checks chosen').waitFor()
    expect(await findings(page)).toEqual([])
    await page.getByRole('button', { name: 'Edit' }).click()
    await page.getByRole('dialog').getByLabel('Tags').first().fill('night')
    await page.keyboard.press('Enter')
    await page.getByText('4 checks change.').waitFor()
    await page.getByText('sensors, night').first().waitFor()
    await page.getByRole('button', { name: 'Change them' }).click()
    await page.getByText('4 checks are changed.').waitFor()
    const tagged = async () => (await checks()).filter((check) => ((check.definition.tags ?? []) as string[]).includes('night')).map((check) => check.definition.check)
    expect((await tagged()).sort()).toEqual(['berth-status', 'harbour-weather', 'tide-forecast', 'tide-station'])
    await page.getByRole('button', { name: 'Undo' }).click()
    await page.getByText('It is as it was before.').waitFor()
    expect(await tagged()).toEqual([])
    await context.close()
  })

  it('refuses nonsense before anything is written', async () => {
    const { page, context } = await signedIn(browser)
    await page.goto('/checks?service=freight')
    await page.getByRole('checkbox', { name: 'Choose all' }).click()
    await page.getByRole('button', { name: 'Edit' }).click()
    await page.getByRole('dialog').getByLabel('What to do').first().click()
    await page.getByRole('option', { name: 'set how often' }).click()
    await page.getByRole('textbox', { name: 'To', exact: true }).fill('1 s')
    await page.getByText(/expected a duration from 10s/).waitFor()
    expect(await page.getByRole('button', { name: 'Change them' }).isDisabled()).toBe(true)
    await context.close()
  })
})

describe('a service', () => {
  it('is copied to another stage with its checks, set beside the first, run as a whole, and taken back', async () => {
    const { page, context } = await signedIn(browser)
    await page.goto('/services/checkout')
    await page.getByRole('heading', { name: /checks of Checkout/ }).waitFor()
    await page.getByRole('button', { name: 'Copy to another stage' }).click()
    await page.getByRole('textbox', { name: 'The stage' }).fill('preview')
    await page.getByRole('dialog').getByRole('textbox', { name: 'Value of variable 1' }).fill('https://staging.orrinsound.example')
    await page.getByRole('button', { name: 'Copy it' }).click()
    await page.waitForURL('**/services/checkout-preview')
    const copied = (await checks()).filter((check) => check.definition.service === 'checkout-preview')
    expect(copied.map((check) => check.definition.check).sort()).toEqual(['mail-server-preview', 'payment-api-preview', 'payment-page-preview', 'ticket-mail-preview', 'ticket-receipt-preview'])
    await page.getByRole('link', { name: 'set beside production' }).click()
    await page.getByRole('heading', { name: /preview and production|production and preview/ }).waitFor()
    await page.getByText('https://staging.orrinsound.example').first().waitFor()
    expect(await findings(page)).toEqual([])
    await page.goto('/services/checkout-preview')
    await page.getByRole('button', { name: 'Run them all' }).click()
    await page.getByRole('button', { name: 'With other values' }).click()
    await page.getByRole('dialog').getByRole('textbox', { name: 'Value of variable 1' }).fill('https://pay.orrinsound.example')
    await page.getByRole('button', { name: 'Run 5 checks now' }).click()
    await page.getByRole('table', { name: 'Results' }).getByText('12 of 12').nth(4).waitFor({ timeout: 60_000 })
    expect(await page.getByRole('table', { name: 'Results' }).getByText('passing').count()).toBe(5)
    await page.keyboard.press('Escape')
    await page.goto('/changes')
    await page.getByRole('row', { name: /Copied Checkout to preview/ }).first().getByRole('button', { name: 'Undo' }).click()
    await page.getByText('It is as it was before.').waitFor()
    expect((await checks()).filter((check) => check.definition.service === 'checkout-preview')).toEqual([])
    await context.close()
  })

  it('shows what comes from it, is overridden in place, and takes a part back', async () => {
    const { page, context } = await signedIn(browser)
    await page.goto('/checks/timetable/edit')
    const every = page.locator('[data-part="every"]')
    expect(await every.getAttribute('title')).toBe('from the service')
    await every.click()
    await page.getByRole('textbox', { name: 'how often' }).fill('60 s')
    await page.keyboard.press('Enter')
    await page.getByText('720 requests an hour').waitFor()
    expect(await every.getAttribute('title')).toBeNull()
    await every.click()
    await page.getByRole('button', { name: 'Back to the service’s: 5 min' }).click()
    await page.getByText('144 requests an hour').waitFor()
    await context.close()
  })

  it('keeps the first of two people who edit it', async () => {
    const { page, context } = await signedIn(browser)
    await page.goto('/services/freight')
    await page.locator('[data-part="every"]').waitFor()
    const { definition, version } = (await api('GET', '/services/freight')).body as { definition: Json; version: number }
    await api('PUT', '/services/freight', { ...definition, wait: '9s' }, { 'if-match': `"${version}"` })
    await page.locator('[data-part="every"]').click()
    await page.getByRole('textbox', { name: 'how often' }).fill('2 min')
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: 'Save', exact: true }).click()
    await page.getByText(new RegExp(`saved version ${version + 1} while you were editing version ${version}`)).waitFor()
    await api('PUT', '/services/freight', definition)
    await context.close()
  })
})

describe('planned work', () => {
  it('now: failures are kept and count against nobody, and it ends early', async () => {
    const server = await ownServer()
    await api('POST', '/checks', { check: 'worked-on', name: 'Worked on', tags: ['worked-on'], http: { url: server.url }, every: '10s', down: { tries: 1, locations: 1 }, from: ['bergen', 'galway'], pass: [{ status: 200 }] })
    await until('up', async () => (await state('worked-on')) === 'up')
    const { page, context } = await signedIn(browser)
    await page.goto('/planned')
    await page.getByRole('textbox', { name: 'Title' }).fill('A new keel')
    await page.getByLabel('It concerns').first().fill('tagged worked-on')
    await page.getByRole('option', { name: 'tagged worked-on' }).click()
    await page.keyboard.press('Escape')
    await page.getByRole('textbox', { name: 'What the public is told' }).fill('The ship is in dock.')
    await page.getByRole('button', { name: 'Plan it' }).click()
    await page.getByRole('heading', { name: /A new keel(, .*)? (is|are) on\.$/ }).waitFor()
    await until('planned work', async () => (await state('worked-on')) === 'planned')
    server.break(503)
    const seen = await until('failures during it', async () => {
      const { observations } = (await api('GET', '/checks/worked-on/observations?limit=20')).body as { observations: { verdict: string }[] }
      return observations.filter((each) => each.verdict === 'fail').length >= 2
    })
    expect(seen).toBe(true)
    expect(await state('worked-on')).toBe('planned')
    expect(((await api('GET', '/incidents?check=worked-on')).body.incidents as unknown[])).toEqual([])
    server.break('mended')
    await page.waitForTimeout(11_000)
    await page.getByRole('row', { name: /A new keel/ }).getByRole('button', { name: 'End it now' }).click()
    await page.getByText('A new keel is over.').waitFor()
    await until('up again', async () => (await state('worked-on')) === 'up')
    expect((await tray()).messages.filter((message) => message.subject.includes('Worked on'))).toEqual([])
    await api('DELETE', '/checks/worked-on')
    server.close()
    await context.close()
  })

  it('that never fires is refused with the reason', async () => {
    const answer = await api('POST', '/planned', { planned: 'never', title: 'Never', from: '2026-11-24T02:00', zone: 'Europe/Oslo', lasts: '1h', repeats: 'FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30' })
    expect([answer.status, String(answer.body.detail)]).toEqual([422, expect.stringContaining('never does')])
  })
})

describe('a stricter rule', () => {
  it('is replayed on the recorded past before it is saved, beside the present one', async () => {
    const { page, context } = await signedIn(browser)
    await page.goto('/checks/payment-page/edit')
    await page.getByText(/Over the last 35 days this would have opened/).waitFor({ timeout: 20_000 })
    const before = await page.getByText(/Over the last 35 days/).innerText()
    await page.locator('[data-part="down.tries"]').click()
    await page.getByRole('textbox', { name: 'failed tries at a location' }).fill('1 try')
    await page.keyboard.press('Enter')
    await page.locator('[data-part="down.locations"]').click()
    await page.getByRole('textbox', { name: 'locations that must agree' }).fill('1 location')
    await page.keyboard.press('Enter')
    await page.getByText(/the present rule opens \d+/).waitFor({ timeout: 20_000 })
    expect(await page.getByText(/Over the last 35 days/).innerText()).not.toBe(before)
    await page.getByRole('button', { name: 'In full' }).click()
    const dialog = page.getByRole('dialog')
    await dialog.getByText('It would have found in addition').waitFor()
    const [mine, present] = (await dialog.getByRole('row', { name: /^Incidents/ }).getByRole('cell').allInnerTexts()).slice(1).map((text) => Number.parseInt(text, 10))
    expect(mine).toBeGreaterThan(present!)
    expect(await findings(page)).toEqual([])
    await context.close()
  })
})

describe('a check that needs another', () => {
  it('tells nobody while that fails too, and tells when only it still fails', async () => {
    const [host, site] = [await ownServer(), await ownServer()]
    const untold = await toldToAll(['the-host', 'the-site'])
    const down = (tries: number, apart: string) => ({ down: { tries, apart, locations: 1 }, up: { tries: 1 }, every: '10s', from: ['bergen'] })
    await api('POST', '/checks', { check: 'the-host', name: 'The host', http: { url: host.url }, pass: [{ status: 200 }], ...down(1, '1s') })
    await api('POST', '/checks', { check: 'the-site', name: 'The site', http: { url: site.url }, pass: [{ status: 200 }], needs: ['the-host'], ...down(2, '12s') })
    await until('both up', async () => (await state('the-host')) === 'up' && (await state('the-site')) === 'up')
    host.break(503)
    site.break(503)
    await until('the site down', async () => (await state('the-site')) === 'down', 45_000)
    const told = async (name: string) => (await tray()).messages.filter((message) => message.subject === `${name} is down` && message.by === 'mail').length
    await until('news of the host', async () => (await told('The host')) > 0)
    const { incidents } = (await api('GET', '/incidents?check=the-site')).body as { incidents: { id: number }[] }
    const { events } = (await api('GET', `/incidents/${incidents[0]!.id}`)).body as { events: { title: string }[] }
    expect(events.map((event) => event.title)).toContain('Explained by The host')
    expect(await told('The site')).toBe(0)
    host.break('mended')
    await until('news of the site', async () => (await told('The site')) > 0, 45_000)
    for (const key of ['the-site', 'the-host']) await api('DELETE', `/checks/${key}`)
    await untold()
    host.close()
    site.close()
  })
})

describe('a location that loses its own line', () => {
  it('is shown as cut off, and its failures neither count nor alert', async () => {
    const drill = async (turn: 'on' | 'off') => {
      await fetch(`${world()}/drills/galway-line/${turn}`, { method: 'POST' })
    }
    await api('POST', '/checks', { check: 'from-galway', name: 'From Galway', http: { url: 'https://boards.orrinsound.example/pier/north' }, every: '10s', wait: '2s', from: ['galway'], down: { tries: 1, locations: 1 } })
    await until('up', async () => (await state('from-galway')) === 'up')
    await drill('on')
    try {
      const { page, context } = await signedIn(browser)
      await page.goto('/locations')
      await page.getByRole('heading', { name: 'Galway has lost its own line.' }).waitFor({ timeout: 40_000 })
      expect(await findings(page)).toEqual([])
      const cut = await until('a failure without a line', async () => ((await api('GET', '/checks/from-galway/observations?limit=20')).body.observations as { occasion: string; reason: string }[]).find((each) => each.occasion === 'cut-off'))
      expect(cut.reason).toBe('line-away')
      expect(['up', 'nodata']).toContain(await state('from-galway'))
      expect((await api('GET', '/incidents?check=from-galway')).body.incidents).toEqual([])
      await context.close()
    } finally {
      await drill('off')
      await api('DELETE', '/checks/from-galway')
    }
  })
})

describe('files', () => {
  it('are previewed and then imported as a whole or not at all', async () => {
    const { page, context } = await signedIn(browser)
    await page.goto('/import')
    const put = async (text: string) => {
      await page.getByRole('textbox', { name: 'The text of the file' }).fill(text)
      await page.getByRole('button', { name: 'Read it' }).click()
    }
    await put('address,name,every\nhttps://boards.orrinsound.example/pier/north,North again,60s\nhttps://boards.orrinsound.example/pier/south,South again,1s\n')
    await page.getByText(/Check south-again, every \(line 3\): expected a duration from 10s/).waitFor()
    expect(await page.getByRole('button', { name: /^Import/ }).isDisabled()).toBe(true)
    await page.getByRole('checkbox', { name: 'South again' }).click()
    await page.getByText('1 new, 0 change, 0 as they are already.').waitFor()
    await page.getByRole('button', { name: 'Import 1 of 2' }).click()
    await page.waitForURL('**/checks')
    expect((await api('GET', '/checks/north-again')).status).toBe(200)
    const exported = await page.request.get('/api/export?keys=north-again&as=yaml')
    const text = await exported.text()
    expect(text).toContain('check: north-again')
    await page.goto('/import')
    await put(text.replace('every: 60s', 'every: 5m'))
    await page.getByText('0 new, 1 changes, 0 as they are already.').waitFor()
    await page.getByText('60s →').waitFor()
    expect(await findings(page)).toEqual([])
    await api('DELETE', '/checks/north-again')
    await context.close()
  })

  it('over the API too: previewed, refused whole, applied', async () => {
    const definitions = [{ service: 'file-service', name: 'From a file', variables: { BASE: 'https://boards.orrinsound.example' } }, { check: 'from-file', name: 'From a file', service: 'file-service', http: { url: '${BASE}/feed.json' } }]
    expect((await api('POST', '/definitions?preview=true', { definitions })).body).toMatchObject({ new: [{ key: 'file-service' }, { key: 'from-file' }], changed: [], problems: [] })
    const broken = await api('POST', '/definitions', { definitions: [definitions[0], { ...definitions[1], http: { url: '${BASIS}/feed.json' } }] })
    expect([broken.status, String(broken.body.detail)]).toEqual([422, expect.stringContaining('a value for BASIS')])
    expect((await api('GET', '/services/file-service')).status).toBe(404)
    expect((await api('POST', '/definitions', { definitions })).status).toBe(200)
    const run = await api('POST', '/checks/from-file/run', { variables: { BASE: 'https://staging.orrinsound.example' } })
    expect((run.body.observations as { verdict: string; evidence: { variables: unknown } }[])[0]!.evidence.variables).toEqual([{ name: 'BASE', from: 'run', value: 'https://staging.orrinsound.example' }])
    await api('DELETE', '/checks/from-file')
    await api('DELETE', '/services/file-service')
  })
})

describe('secrets', () => {
  it('are used by the check and stand nowhere that people or the API can look', async () => {
    const { body } = await api('GET', '/checks/rosters-api/observations?limit=50')
    await until('an observation with evidence', async () => {
      await api('POST', '/checks/rosters-api/run')
      return ((await api('GET', '/checks/rosters-api/observations?limit=50')).body.observations as Json[]).length > 0
    })
    const everything = JSON.stringify([body, (await api('GET', '/checks/rosters-api')).body, (await api('GET', '/services/crew-portal')).body, (await api('GET', '/definitions?as=json')).body])
    expect(everything).not.toContain('demo-rosters')
    expect(await state('rosters-api')).toBe('up')
  })
})

describe('every view of the workshop', () => {
  reachesWcag(() => browser, ['/services', '/services/ticket-sales', '/services/ticket-sales/beside/ticket-sales-staging', '/many', '/import', '/planned', '/locations?edit=galway', '/changes', '/defaults', '/checks/sailings-api/history', '/checks/sailings-api/edit'])
})
