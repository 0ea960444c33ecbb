import type { Browser } from 'playwright-core'
import { access, api, findings, launch, ownServer, signedIn, tray, until, world } from './system'

let browser: Browser
beforeAll(async () => { browser = await launch() })
afterAll(() => browser.close())

interface Routing { kind: string; key: string; version: number; document: { place?: number } & Record<string, unknown> }
const listed = async () => (await api('GET', '/routing')).body.routing as Routing[]

/** Opens the link of a message on a phone, without signing in, and takes the incident once. */
async function takenFromMessage(link: string, person: string, incident: number): Promise<void> {
  const phone = await browser.newContext({ viewport: { width: 390, height: 760 }, hasTouch: true, isMobile: true })
  const page = await phone.newPage()
  await page.goto(link)
  expect((await api('GET', `/incidents/${incident}`)).body.holder).toBeNull()
  await page.getByRole('heading', { name: 'Routed server is down' }).waitFor()
  expect(await findings(page)).toEqual([])
  await page.getByRole('button', { name: `Take it as ${person}` }).click()
  await page.getByText(/^You hold it/).waitFor()
  expect((await api('GET', `/incidents/${incident}`)).body.holder).toBe(person)
  await page.goto(`${link.slice(0, -3)}abc`)
  await page.getByRole('heading', { name: 'This link is not one of ours.' }).waitFor()
  await phone.close()
}

describe('who hears what', () => {
  it('is a sentence built from nothing, rehearsed for a night, and what then happens when the target breaks', async () => {
    const server = await ownServer()
    await api('POST', '/checks', {
      check: 'routed-server', name: 'Routed server', http: { url: server.url }, every: '10s', from: ['bergen', 'galway'], tags: ['routed'], wait: '2s', pass: [{ status: 200 }], down: { tries: 2, apart: '1s', locations: 1 }, up: { tries: 1 }
    })
    const { page, context } = await signedIn(browser)
    await page.goto('/routing')
    await page.getByRole('button', { name: 'New route' }).click()
    const first = page.locator('[data-route]').first()
    await first.getByText('anything vital').waitFor()
    const edit = async (part: string, label: string, text: string) => {
      await first.locator(`[data-part="${part}"]`).click()
      await page.getByRole('textbox', { name: label, exact: true }).fill(text)
      await page.keyboard.press('Enter')
    }
    await edit('when', 'what it is about', 'anything, tagged nothing-such, in Nowhere')
    await page.getByText('Expected in something that exists, not “Nowhere”.').waitFor()
    await page.getByRole('textbox', { name: 'what it is about', exact: true }).fill('anything, tagged routed')
    await page.keyboard.press('Enter')
    await first.getByText('anything, tagged routed').waitFor()
    await edit('then[0].tell', 'whom step 1 tells', 'Ticketing on call')
    await first.getByText('Ticketing on call').waitFor()
    await edit('then[0].by', 'by what step 1 tells', 'push')
    await first.getByRole('button', { name: 'by what step 1 tells: push' }).waitFor()
    await first.getByRole('button', { name: /^Change route/ }).click()
    await page.getByRole('menuitem', { name: 'Add a step' }).click()
    await edit('then[1].after', 'how long to wait', '5 s')
    await first.getByRole('button', { name: 'how long to wait: 5 s' }).waitFor()
    await edit('then[1].tell', 'whom step 2 tells', 'Ines Falk')
    await first.getByRole('button', { name: 'whom step 2 tells: Ines Falk' }).waitFor()
    await edit('then[1].by', 'by what step 2 tells', 'voice')
    await first.getByRole('button', { name: 'by what step 2 tells: voice' }).waitFor()
    await first.getByRole('button', { name: /^Change route/ }).click()
    await page.getByRole('menuitem', { name: 'Mark its messages as urgent' }).click()
    await first.getByText('Urgent').waitFor()

    await page.locator('[data-part="check"]').click()
    await page.getByRole('textbox', { name: 'which check' }).fill('Routed server')
    await page.keyboard.press('Enter')
    await page.waitForURL(/check=routed-server/)
    await page.locator('[data-part="at"]').click()
    await page.getByRole('textbox', { name: 'when' }).fill('Saturday 03:00')
    await page.keyboard.press('Enter')
    await page.waitForURL(/at=/)
    const steps = page.getByRole('list', { name: 'What would happen' }).getByRole('listitem')
    await steps.nth(2).waitFor()
    expect((await steps.allInnerTexts()).map((each) => each.replace(/\s+/g, ' ').trim())).toEqual([
      expect.stringMatching(/^03:00:00 called down route 1 fits$/), expect.stringMatching(/^03:00:00 (Ines Falk|Mael Kerjean) push; through quiet hours$/), '03:00:05 Ines Falk voice; through quiet hours'
    ])
    expect(await findings(page)).toEqual([])

    const now = (await api('GET', '/rehearse?check=routed-server')).body.steps as { receivers: { name: string; means: string }[] }[]
    await until('the first pass', async () => ((await api('GET', '/checks/routed-server')).body.state as { state: string }).state === 'up')
    server.break(503)
    const begun = Date.now()
    const fresh = async () => (await tray()).messages.filter((message) => message.at >= begun)
    const mine = async (subject: string) => (await fresh()).filter((message) => message.subject === subject)
    await until('the first step', async () => (await mine('Routed server is down')).length > 0)
    const second = await until('the second step', async () => { const found = (await fresh()).filter((message) => message.by === 'voice' && message.text.includes('Still down: Routed server')); return found.length > 0 && found })
    const told = await mine('Routed server is down')
    expect(told.map((each) => each.by)).toEqual(['push'])
    expect(second.map(({ to, text }) => [to, text])).toEqual([['+447700900101', expect.stringMatching(/^Hemeron\. Still down: Routed server\. Why: .* To take it, press 1\.$/)]])
    const { incidents } = (await api('GET', '/incidents?check=routed-server')).body as { incidents: { id: number }[] }
    const sent = (await api('GET', `/deliveries?incident=${incidents[0]!.id}`)).body.deliveries as { person: string; channelKind: string; cause: string }[]
    expect(sent.map((each) => each.cause).sort()).toEqual(['Route 1, step 1', 'Route 1, step 2'])
    expect(now.map((step) => step.receivers.map((each) => `${each.name} ${each.means}`))).toEqual([...sent].sort((a, b) => a.cause.localeCompare(b.cause)).map((each) => [`${each.person} ${each.channelKind}`]))
    await takenFromMessage(told[0]!.link!, sent.find((each) => each.cause === 'Route 1, step 1')!.person, incidents[0]!.id)
    expect((await (await fetch(`${world()}/press?${new URLSearchParams({ call: second[0]!.key, key: '1' }).toString()}`, { method: 'POST' })).json())).toMatchObject({ said: expect.stringMatching(/^You hold it (now|already)\.$/) as unknown })
    await until('her holding it', async () => (await api('GET', `/incidents/${incidents[0]!.id}`)).body.holder === 'Ines Falk')

    server.break('mended')
    await until('the end', async () => ((await api('GET', `/deliveries?incident=${incidents[0]!.id}`)).body.deliveries as { news: string; state: string }[]).filter((each) => each.news === 'over' && each.state === 'sent').length >= 1)
    await page.goto('/routing/sent')
    await page.getByText('Route 1, step 2').first().waitFor()

    await page.goto('/routing')
    await first.locator('[data-part="when"]').focus()
    await page.keyboard.press('Alt+ArrowDown')
    await page.getByText(/^Another order\. (Would hear|Nobody would)/).waitFor()
    expect(await findings(page)).toEqual([])
    await page.getByRole('button', { name: 'Use this order' }).click()
    await until('the route below', async () => (await listed()).filter((each) => each.kind === 'route').findIndex((each) => JSON.stringify(each.document).includes('routed')) === 1)
    const own = (await listed()).find((each) => JSON.stringify(each.document).includes('routed'))!
    expect((await api('DELETE', `/routing/route/${own.key}`)).status).toBe(204)
    await api('DELETE', '/checks/routed-server')
    server.close()
    await context.close()
  }, 240_000)

  it('follows rotas, cover and days off; a step that somebody’s hold makes needless is left out', async () => {
    const { page, context } = await signedIn(browser)
    const rehearsed = async (at: string, taken = '') => ((await api('GET', `/rehearse?check=sailings-api&at=${at}${taken}`)).body.steps as { left: string | null; receivers: { name: string }[]; passedOver: { name: string; why: string }[] }[])
    const friday = '2031-01-10T12:00:00Z'
    const before = (await rehearsed(friday))[1]!.receivers.map((each) => each.name)
    const rota = (await listed()).find((each) => each.kind === 'rota' && each.key === 'ticketing')!
    const stands = await api('PUT', '/routing/rota/ticketing', { ...rota.document, cover: [{ from: '2031-01-10T08:00', to: '2031-01-11T08:00', person: 'priya-nandakumar' }] })
    expect(stands.status).toBe(200)
    expect([...new Set((await rehearsed(friday))[1]!.receivers.map((each) => each.name))]).toEqual(['Priya Nandakumar'])
    expect(before).not.toContain('Priya Nandakumar')
    expect((await rehearsed(friday, '&taken=5m')).filter((step) => step.left === 'taken').length).toBe(2)
    expect((await api('PUT', '/routing/rota/ticketing', rota.document)).status).toBe(200)

    await page.goto('/routing/people')
    await page.getByRole('button', { name: 'Days off of Leila Haddad' }).click()
    await page.getByLabel('First day away').fill('2031-01-06')
    await page.getByLabel('Last day away').fill('2031-01-26')
    await page.getByRole('button', { name: 'Add', exact: true }).click()
    const listedOff = page.getByRole('table').getByText('2031-01-06 to 2031-01-26')
    await listedOff.waitFor()
    await page.getByRole('dialog').waitFor({ state: 'hidden' })
    const away = (await Promise.all(['2031-01-10T12:00:00Z', '2031-01-17T12:00:00Z'].map((at) => rehearsed(at)))).flat().flatMap((step) => step.passedOver)
    expect(away).toContainEqual({ name: 'Leila Haddad', why: 'is away' })
    await page.getByRole('button', { name: 'Days off of Leila Haddad' }).click()
    await page.getByRole('button', { name: 'Take away 2031-01-06' }).click()
    await listedOff.waitFor({ state: 'detached' })
    await context.close()
  })

  it('has a rota with layers made, changed and covered in its calendar, and read by other programs', async () => {
    const { page, context } = await signedIn(browser)
    await page.goto('/routing/rotas')
    const form = page.getByRole('dialog')
    const choose = async (place: number, name: string) => {
      await form.getByLabel('People, in the order of their turns').nth(place).click()
      await page.getByRole('option', { name }).and(page.locator(':visible')).click()
      await form.getByLabel('Name').click()
    }
    await page.getByRole('button', { name: 'New rota' }).click()
    await form.getByLabel('Name').fill('Pier watch')
    await choose(0, 'Jonas Wiik')
    await form.getByLabel('Only in these hours').fill('mon-fri 08:00-16:00')
    await form.getByRole('button', { name: /^Add a layer below/ }).click()
    await choose(1, 'Priya Nandakumar')
    await form.getByRole('button', { name: 'Add', exact: true }).click()
    const card = page.getByRole('region', { name: 'Pier watch' })
    await card.waitFor()
    const rota = (await listed()).find((each) => each.kind === 'rota' && each.key === 'pier-watch')!
    expect((rota.document.layers as { people: string[]; hours?: unknown }[]).map(({ people, hours }) => [people, hours])).toEqual([[['jonas-wiik'], ['mon-fri 08:00-16:00']], [['priya-nandakumar'], undefined]])
    await card.getByRole('button', { name: 'Change Pier watch' }).click()
    await form.getByLabel('Hands over every').first().click()
    await page.getByRole('option', { name: 'by a rule of its own' }).and(page.locator(':visible')).click()
    await form.getByLabel('Rule').fill('FREQ=HOURLY')
    await form.getByRole('button', { name: 'Save' }).click()
    await form.getByRole('alert').getByText(/every: expected day, week, or an RRULE/).waitFor()
    await form.getByLabel('Rule').fill('FREQ=WEEKLY;BYDAY=MO,FR')
    await form.getByRole('button', { name: 'Save' }).click()
    await card.getByText('handing over by FREQ=WEEKLY;BYDAY=MO,FR').waitFor()
    await card.getByRole('button', { name: /^Stand in on / }).nth(3).click()
    await page.getByRole('button', { name: 'Stand in', exact: true }).last().click()
    await until('the cover', async () => ((await listed()).find((each) => each.key === 'pier-watch')!.document.cover as unknown[] | undefined)?.length === 1)
    const feed = (await card.getByRole('link', { name: 'Calendar of this rota' }).getAttribute('href'))!
    const calendar = await fetch(`${access.url}${feed}`)
    expect([calendar.status, calendar.headers.get('content-type')]).toEqual([200, 'text/calendar; charset=utf-8'])
    expect(await calendar.text()).toMatch(/SUMMARY:Jonas Wiik[\s\S]*standing in/)
    expect((await fetch(`${access.url}${feed.replace('pier-watch', 'ticketing')}`)).status).toBe(404)
    expect((await api('DELETE', '/routing/rota/pier-watch')).status).toBe(204)
    await context.close()
  }, 180_000)

  it('refuses what would leave somebody untold, and says where', async () => {
    const refused = async (path: string, document: unknown) => { const { status, body } = await api('PUT', path, document); return [status, (body.errors as { path: string }[] | undefined)?.[0]?.path ?? body.detail] }
    expect(await refused('/routing/rota/nobody', { rota: 'nobody', name: 'Nobody', zone: 'Europe/Oslo', layers: [] })).toEqual([422, 'layers'])
    expect(await refused('/routing/team/ticketing', { team: 'ticketing', name: 'Ticketing', people: [] })).toEqual([422, expect.stringContaining('tell')])
    expect(await refused('/routing/route/own', { route: 'own', place: 1, then: [{ tell: 'rota/none' }] })).toEqual([422, 'then[0].tell'])
    expect((await api('DELETE', '/routing/rota/duty-lead')).status).toBe(422)
    expect((await api('DELETE', '/routing/route/none')).status).toBe(404)
    expect((await api('GET', '/rehearse?check=none')).status).toBe(404)
    expect((await api('GET', '/rehearse?check=sailings-api&state=odd')).status).toBe(422)
    expect((await fetch(`${access.url}/api/v1/routing`)).status).toBe(401)
    const route = (await listed()).find((each) => each.kind === 'route')!
    expect((await api('PUT', `/routing/route/${route.key}`, route.document, { 'if-match': '"999"' })).status).toBe(412)
  })
})
