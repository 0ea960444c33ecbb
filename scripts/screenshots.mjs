// Takes the pictures in docs/screenshots from a running demo: node scripts/screenshots.mjs [folder] [name=path …]
// A name that ends in -night is taken in the night theme, one that ends in -phone at phone width.
import { mkdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { chromium } from 'playwright-core'

const [folder = 'docs/screenshots', ...wanted] = process.argv.slice(2)
const { url, mail, password, token } = JSON.parse(readFileSync('.hemeron/demo.json', 'utf8'))
const pages = wanted.length > 0 ? wanted.map((each) => each.split(/=(.*)/).slice(0, 2)) : [
  ['today', '/'], ['checks', '/checks'], ['check', '/checks/sailings-api'], ['new-check', '/checks/new?copy=tide-station'], ['incident', '/incidents/newest'], ['incidents', '/incidents'], ['routing', '/routing'],
  ['service', '/services/ticket-sales'], ['many', '/many'], ['planned', '/planned'], ['locations', '/locations'], ['find-out', '/find-out/loss'], ['find-out-map', '/find-out/loss'], ['observation', '/observations/kept'], ['before-after', '/find-out/marks/1'], ['kinds', '/checks/new'], ['numbers', '/checks/host-mole'], ['today-night', '/'], ['incidents-phone', '/incidents']
]
mkdirSync(folder, { recursive: true })
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'] })
const state = await (async () => {
  const context = await browser.newContext({ baseURL: url })
  const page = await context.newPage()
  await page.goto('/sign-in')
  await page.getByLabel('Mail address').fill(mail)
  await page.locator('input[type=password]').fill(password)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await page.waitForURL(url + '/')
  return context.storageState()
})()
for (const [name, path] of pages) {
  const isPhone = name.endsWith('-phone')
  const context = await browser.newContext({ baseURL: url, storageState: state, viewport: isPhone ? { width: 390, height: 844 } : { width: 1280, height: 800 }, colorScheme: name.endsWith('-night') ? 'dark' : 'light' })
  const page = await context.newPage()
  page.on('console', (message) => { if (message.type() === 'error') console.error(name, message.text()) })
  page.on('pageerror', (error) => console.error(name, error.message))
  if (path === '/find-out/loss') {
    // the day a provider lost packets, two days ago
    const day = new Intl.DateTimeFormat('sv-SE', { timeZone: 'Europe/Oslo' }).format(Date.now() - 2 * 86_400_000)
    await page.goto(`/find-out?of=connect&by=network&over=${day}T09:30_${day}T15:30${name === 'find-out-map' ? '&as=map' : '&where=country:CL'}`)
    await page.waitForTimeout(2500)
  } else if (path === '/observations/kept') {
    // the newest one of which everything was kept
    const read = async (tail) => (await context.request.get(`/api/v1/checks/sailings-api/observations${tail}`, { headers: { authorization: `Bearer ${token}` } })).json()
    for (const { location, at } of (await read('?limit=300')).observations) {
      if (!(await read(`/${location}/${at}`)).evidence?.answer) continue
      await page.goto(`/observations/sailings-api/${location}/${Date.parse(at)}`)
      break
    }
  } else if (path.endsWith('/newest')) {
    await page.goto('/incidents')
    await page.locator('main a[href^="/incidents/"]').first().click()
    await page.waitForURL(/\/incidents\/\d+/)
  } else await page.goto(path)
  if (name === 'many') {
    const paths = ['/api/sailings', '/api/seats?deck=2', '/timetable?day=2', '/', '/images/harbour.jpg?large']
    const list = ['book', 'fares', 'boards', 'crew', 'tides'].flatMap((host) => paths.map((path) => `https://${host}.orrinsound.example${path}`))
    await page.getByRole('textbox', { name: 'Addresses, one a line' }).fill([...list, 'gopher://files.orrinsound.example/manifests', 'https://harbour.orrinsound.example/'].join('\n'))
    await page.getByRole('button', { name: 'Try them all' }).click()
    await page.getByRole('heading', { name: /pass\./ }).waitFor()
  }
  if (name === 'kinds') {
    await page.keyboard.press('Escape')
    await page.locator('[data-part="kind"]').click()
  }
  await page.waitForTimeout(name === 'new-check' ? 3500 : 1500)
  await page.screenshot({ path: join(folder, `${name}.png`) })
  await context.close()
}
await browser.close()
