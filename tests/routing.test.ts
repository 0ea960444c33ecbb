import type { Browser } from 'playwright-core'
import { access, api, findings, launch, ownServer, signedIn, tray, until } from './system'

let browser: Browser
beforeAll(async () => { browser = await launch() })
afterAll(() => browser.close())

interface Routing { kind: string; key: string; version: number; document: { place?: number } & Record<string, unknown> }
const listed = async () => (await api('GET', '/routing')).body.routing as Routing[]

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
    await edit('then[1].tell', 'whom step 2 tells', 'Duty lead')
    await first.getByRole('button', { name: 'whom step 2 tells: Duty lead' }).waitFor()

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
      expect.stringMatching(/^03:00:00 called down route 1 fits$/), expect.stringMatching(/^03:00:00 (Ines Falk|Mael Kerjean) push$/), expect.stringMatching(/^03:00:05 (Tomas Obrecht|Leila Haddad) mail$/)
    ])
    expect(await findings(page)).toEqual([])

    const now = (await api('GET', '/rehearse?check=routed-server')).body.steps as { receivers: { name: string; means: string }[] }[]
    await until('the first pass', async () => ((await api('GET', '/checks/routed-server')).body.state as { state: string }).state === 'up')
    server.break(503)
    const mine = async (subject: string) => (await tray()).messages.filter((message) => message.subject === subject)
    await until('the first step', async () => (await mine('Routed server is down')).length > 0)
    const second = await until('the second step', async () => { const found = await mine('Still down: Routed server'); return found.length > 0 && found })
    const told = await mine('Routed server is down')
    expect(told.map((each) => each.by)).toEqual(['push'])
    expect(second.map((each) => each.by)).toEqual(['mail'])
    expect(second[0]!.text).toContain('Nobody has taken it yet.')
    const { incidents } = (await api('GET', '/incidents?check=routed-server')).body as { incidents: { id: number }[] }
    const sent = (await api('GET', `/deliveries?incident=${incidents[0]!.id}`)).body.deliveries as { person: string; channelKind: string; cause: string }[]
    expect(sent.map((each) => each.cause).sort()).toEqual(['Route 1, step 1', 'Route 1, step 2'])
    expect(now.map((step) => step.receivers.map((each) => `${each.name} ${each.means}`))).toEqual([...sent].sort((a, b) => a.cause.localeCompare(b.cause)).map((each) => [`${each.person} ${each.channelKind}`]))
    server.break('mended')
    await until('the end', async () => (await mine('Up again: Routed server')).length === 2)
    await page.goto('/routing/sent')
    await page.getByText('Route 1, step 2').first().waitFor()

    await page.goto('/routing')
    await first.locator('[data-part="when"]').focus()
    await page.keyboard.press('Alt+ArrowDown')
    await until('the route below', async () => (await listed()).filter((each) => each.kind === 'route').findIndex((each) => JSON.stringify(each.document).includes('routed')) === 1)
    const own = (await listed()).find((each) => JSON.stringify(each.document).includes('routed'))!
    expect((await api('DELETE', `/routing/route/${own.key}`)).status).toBe(204)
    await api('DELETE', '/checks/routed-server')
    server.close()
    await context.close()
  })

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
