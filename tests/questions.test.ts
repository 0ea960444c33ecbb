import type { Browser } from 'playwright-core'
import { api, changePart, findings, launch, localTime, signedIn, until } from './system'

let browser: Browser
beforeAll(async () => { browser = await launch() })
afterAll(() => browser.close())

describe('a question over weeks', () => {
  it.each(['location', 'check', 'service'])('by %s is set beside the week before, merged from what was rolled up', async (by) => {
    const { page, context } = await signedIn(browser)
    await page.goto(`/find-out?by=${by}&over=7d&beside=week`)
    await page.getByText(/observations, merged from (hours|days)/).waitFor()
    const table = page.getByRole('table').filter({ has: page.getByRole('columnheader', { name: 'vs last week' }) })
    const changes = await table.locator('tbody tr td:nth-child(4)').allInnerTexts()
    expect(changes.length).toBeGreaterThan(3)
    expect(changes.filter((each) => /^[+−]?\d+%$/.test(each)).length).toBeGreaterThan(changes.length / 2)
    await context.close()
  })
})

describe('a question set beside another', () => {
  it('names other checks and other demands in its sentence, and compares group by group or with all of them', async () => {
    const { page, context } = await signedIn(browser)
    await page.goto('/find-out?for=check/sailings-api&by=location&over=24h')
    await page.getByRole('button', { name: 'Set beside…' }).click()
    await page.getByRole('menuitem', { name: 'Other checks, or other demands …' }).click()
    await page.getByRole('dialog').getByRole('textbox').fill('nothing such')
    await page.keyboard.press('Enter')
    await page.getByText(/^Expected nothing, the stretch before/).waitFor()
    await page.getByRole('dialog').getByRole('textbox').fill('Fares API')
    await page.keyboard.press('Enter')
    await page.waitForURL(/beside=check%2Ffares-api/)
    const ranking = page.getByRole('table').filter({ has: page.getByRole('columnheader', { name: 'vs the other' }) })
    const changes = async () => (await ranking.locator('tbody tr td:nth-child(4)').allInnerTexts()).filter((each) => /^[+−]?\d+%$/.test(each)).length
    await ranking.waitFor()
    expect(await changes()).toBe(12)
    await page.getByText(/Together p95 [\d\u202f. ]+ m?s; Fares API [\d\u202f. ]+ m?s\./).waitFor()
    // another network, for each check; and, by network, where no name is the same, all of it
    await changePart(page, 'beside', 'network is Nordvik Fibre')
    await page.waitForURL(/beside-where=network%3ANordvik/)
    await changePart(page, 'by', 'network')
    await page.waitForURL(/by=network/)
    await until('a comparison', async () => (await changes()) > 0, 20_000)
    expect(await findings(page)).toEqual([])
    await changePart(page, 'beside', 'nothing')
    await page.waitForURL((url) => !url.search.includes('beside'))
    await context.close()
  })
  it('is compared with what is usual or with its passing tries, over stretches of any length', async () => {
    const { page, context } = await signedIn(browser)
    const verdict = page.getByRole('status').filter({ hasText: /observations? (in the stretch|in \d+% of the stretch, taken by chance)/ })
    const observed = (text: string) => Number(/([\d\u202f]+) observations/.exec(text)?.[1]?.replaceAll('\u202f', ''))
    const stretch = `${localTime(1, '20:00')}_${localTime(1, '21:00')}`
    await page.goto(`/find-out?for=service/ticket-sales&by=location&over=24h&stretch=${stretch}`)
    await verdict.waitFor()
    const around = await verdict.innerText()
    await page.getByRole('button', { name: 'the time around it' }).click()
    await page.getByRole('menuitem', { name: /^What is usual/ }).click()
    await page.waitForURL(/against=usual/)
    await page.getByRole('button', { name: 'what is usual' }).waitFor()
    await page.getByRole('heading', { name: /^(In the stretch and usually|What failing and passing tries do not share)$/ }).waitFor()
    await verdict.waitFor()
    expect(observed(await verdict.innerText())).toBe(observed(around))
    await page.getByRole('button', { name: 'what is usual' }).click()
    await page.getByRole('menuitem', { name: /^Its passing tries/ }).click()
    await page.waitForURL(/against=passing/)
    await page.getByRole('button', { name: 'its passing tries' }).waitFor()
    await verdict.waitFor()
    expect(await findings(page)).toEqual([])
    // a stretch that the question has left behind since, as in a link that was sent yesterday, is looked at as a whole
    await page.goto(`/find-out?for=service/ticket-sales&by=location&over=6h&stretch=${stretch}`)
    await verdict.waitFor()
    expect(observed(await verdict.innerText())).toBe(observed(around))
    // three days and more are looked at too
    await page.goto(`/find-out?for=service/ticket-sales&by=location&over=7d&stretch=${localTime(2, '00:00')}_${localTime(0, '00:30')}`)
    await verdict.waitFor()
    expect(observed(await verdict.innerText())).toBeGreaterThan(20_000)
    await context.close()
  }, 180_000)
  it('is asked over the API in the words of its address, and refused where it cannot be read', async () => {
    const { status, body } = await api('GET', '/find-out?for=check/sailings-api&by=network&over=24h&beside=check/fares-api&against=usual')
    expect(status).toBe(200)
    expect(body).toMatchObject({ question: 'Show p95 of response time for Sailings API by network over the last 1 day, beside Fares API', answeredFrom: 'observations', more: 0, together: { value: expect.any(Number) as number, beside: expect.any(Number) as number } })
    const groups = body.groups as { key: string; name: string; tries: number; value: number; line: unknown[]; besideLine: unknown[] }[]
    expect(groups).toHaveLength(12)
    expect(groups.map((each) => each.value)).toEqual(groups.map((each) => each.value).sort((a, b) => b - a))
    expect(groups.every((each) => each.line.length === each.besideLine.length)).toBe(true)
    const { stretch, verdict } = body as { stretch?: { picked: boolean }; verdict?: { title: string; outcome: string; parties: unknown[] } }
    expect(verdict === undefined).toBe(stretch === undefined)
    if (verdict) expect(verdict.title).toMatch(/\.$/)
    const refused = await api('GET', '/find-out?by=colour&over=soon&for=check/gone')
    expect(refused.status).toBe(422)
    expect((refused.body.errors as { path: string }[]).map((each) => each.path).sort()).toEqual(['by', 'for', 'over'])
  })
  it('is split by the steps of a sequence, and leads to the try', async () => {
    const { page, context } = await signedIn(browser)
    await page.goto('/checks/buy-a-ticket')
    await page.getByRole('link', { name: 'Which step' }).click()
    await page.waitForURL(/by=step/)
    for (const step of ['home page', 'sailings', 'seats', 'fares']) await page.getByRole('row', { name: new RegExp(`^${step}`) }).waitFor()
    // where a stretch stands out, its verdict brings a table of its own
    const ranking = page.getByRole('table').filter({ has: page.getByRole('columnheader', { name: 'Tries', exact: true }) })
    await page.getByRole('row', { name: /^seats/ }).focus()
    await page.keyboard.press('Enter')
    await page.waitForURL(/where=step%3Aseats/)
    await until('one step', async () => (await ranking.locator('tbody tr').count()) === 1, 20_000)
    const { observations } = (await api('GET', '/checks/buy-a-ticket/observations?limit=50')).body as { observations: { at: string; location: string; total: number; verdict: string; steps?: { name: string; took: number }[] }[] }
    const passing = observations.find((each) => each.verdict === 'pass')!
    expect(passing.steps!.map((each) => each.name)).toEqual(['home page', 'sailings', 'seats', 'fares'])
    await page.goto(`/observations/buy-a-ticket/${passing.location}/${Date.parse(passing.at)}`)
    await page.getByRole('cell', { name: '3. seats' }).waitFor()
    await context.close()
  })
})

describe('a question with mistakes', () => {
  it('is answered as far as it can be, and says what is wrong', async () => {
    const { page, context } = await signedIn(browser)
    await page.goto('/find-out?over=2026-01-02T00:00_2026-01-01T00:00&by=colour&where=planet:mars&for=check/gone')
    const alert = page.getByRole('alert').filter({ hasText: 'by: expected' })
    await alert.waitFor()
    expect(await alert.innerText()).toMatch(/^(?=[\s\S]*over: )(?=[\s\S]*where: )[\s\S]*The rest of the question is answered\.$/)
    await page.getByText('gone is gone; the question leaves it out.').waitFor()
    await page.goto('/find-out?where=country:AQ')
    await page.getByRole('heading', { name: 'Nothing was observed that fits.' }).waitFor()
    await page.goto('/observations/sailings-api/bergen/1')
    await page.getByRole('heading', { name: 'There is nothing here.' }).waitFor()
    await context.close()
  })
})
