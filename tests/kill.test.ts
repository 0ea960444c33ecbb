import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { access, api, home, toldToAll, tray, until } from './system'

const PARTS = ['engine', 'web', 'database', 'probe'] as const
/** Mail and push of six people, the operations log and the chat; one person wants news of the end by push only. */
const CHANNELS = { down: 14, over: 13 }

/** Ends a process at once, without giving it a chance to tidy up. */
function kill(part: (typeof PARTS)[number]): void {
  const file = part === 'database' ? 'database/mariadb.pid' : `${part}.pid`
  try {
    process.kill(Number(readFileSync(join(home, 'demo', file), 'utf8')), 'SIGKILL')
  } catch {
    // it is down already and about to be started again
  }
}

describe('killing any process at any moment', () => {
  it('loses no acknowledged observation, no state, no incident and no delivery, and repeats none', async () => {
    const { probeToken } = JSON.parse(readFileSync(join(home, 'demo/access-demo.json'), 'utf8')) as { probeToken: string }
    // everyone is told by every means, so that many messages are on their way when something dies
    const untold = await toldToAll(['under-fire'])
    await api('POST', '/checks', { check: 'under-fire', name: 'Under fire', http: { url: 'http://127.0.0.1:9/' }, every: '1d', from: ['orrin-harbour'], down: { tries: 1, locations: 1 }, up: { tries: 1 } })
    const headers = { authorization: `Bearer ${probeToken}` }
    const assigned = await until('the assignment', async () => {
      const { checks } = (await (await fetch(`${access.url}/api/probe/assignments`, { headers })).json()) as { checks: { id: number; document: { check: string }; locations: { id: number }[] }[] }
      return checks.find((each) => each.document.check === 'under-fire')
    })
    // its one real run fails at once and opens an incident of its own; the rest is counted from here
    await until('the first incident', async () => ((await api('GET', '/incidents?check=under-fire')).body.incidents as object[]).length === 1)
    const before = await tray()

    const acknowledged: number[] = []
    let stop = false
    let sequence = 0
    let at = Date.now()
    const send = async () => {
      while (!stop || sequence % 12 !== 0) {
        at = Math.max(at + 1, Date.now())
        const verdict = sequence % 12 === 6 ? 'fail' : 'pass'
        const body = JSON.stringify([{ check: assigned.id, location: assigned.locations[0]!.id, at, occasion: 'scheduled', verdict, version: 1, total: 5, phases: { wait: 5 }, ...(verdict === 'fail' ? { reason: 'status', sentence: `failure ${sequence}` } : {}) }])
        for (;;) {
          const answer = await fetch(`${access.url}/api/probe/observations`, { method: 'POST', headers, body, signal: AbortSignal.timeout(5000) }).catch(() => undefined)
          if (answer?.status === 204) break
          await sleep(100)
        }
        acknowledged.push(at)
        sequence += 1
        await sleep(25)
      }
    }
    const sending = send()
    for (let round = 0; round < 3; round += 1) {
      for (const part of PARTS) {
        await sleep(1300 + round * 170)
        kill(part)
      }
    }
    await sleep(2000)
    stop = true
    await sending

    const waves = sequence / 12
    const seen = await until('every observation', async () => {
      const answer = await api('GET', '/checks/under-fire/observations?limit=10000').catch(() => undefined)
      const times = new Set(((answer?.body.observations ?? []) as { at: string }[]).map((each) => Date.parse(each.at)))
      return acknowledged.every((each) => times.has(each)) && times
    }, 60_000)
    expect(seen.size).toBeGreaterThanOrEqual(acknowledged.length)
    expect((await api('GET', '/checks/under-fire')).body).toMatchObject({ state: { state: 'up' } })
    const incidents = (await api('GET', '/incidents?check=under-fire&limit=1000')).body.incidents as { id: number; open: boolean; sentence: string }[]
    expect(incidents.filter((each) => each.sentence.startsWith('failure'))).toHaveLength(waves)
    expect(incidents.every((each) => !each.open)).toBe(true)
    const expected = waves * (CHANNELS.down + CHANNELS.over) + CHANNELS.down
    await until('every delivery', async () => {
      const found = await Promise.all(incidents.map(async ({ id }) => (await api('GET', `/deliveries?incident=${id}&limit=100`)).body.deliveries as { state: string }[]))
      return found.every((each) => each.length === CHANNELS.down + CHANNELS.over && each.every((delivery) => delivery.state === 'sent'))
    }, 90_000)
    const after = await tray()
    const own = after.messages.filter((message) => /Under fire/.test(message.subject))
    expect(new Set(own.map((message) => `${message.by}/${message.to}/${message.key}`)).size).toBe(own.length)
    expect(after.count - before.count).toBeGreaterThanOrEqual(expected)
    expect(own.filter((message) => message.subject === 'Under fire is down').length).toBe((waves + 1) * CHANNELS.down)
    process.stdout.write(`kills: ${3 * PARTS.length}; observations acknowledged and found: ${acknowledged.length}; incidents: ${waves}; messages: ${expected}; sent twice and dropped by the receiver: ${after.repeats - before.repeats}\n`)
    await api('DELETE', '/checks/under-fire')
    await untold()
  })
})
