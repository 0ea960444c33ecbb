import { timingSafeEqual } from 'node:crypto'
import type { IncomingMessage, ServerResponse } from 'node:http'
import type { Tray } from './tray'

export const CARRIER_TOKEN = 'demo-carrier-token'

/** How long a phone rings that nobody answers. */
const RINGS = 6000

interface Call { to: string; answerTo: string }

/**
 * A carrier of texts and calls. A text lies in the tray at once. A phone is picked up when it has rung, unless nobody
 * answers phones just now; what it heard lies in the tray, and keys can be pressed from there.
 */
export class Phones {
  private readonly calls = new Map<string, Call>()

  constructor(private readonly tray: Tray, private readonly isUnanswered: () => boolean) {}

  /** Takes a text or a call from whoever has the token. */
  take(kind: 'sms' | 'voice', request: IncomingMessage, body: Buffer, response: ServerResponse): void {
    const given = Buffer.from(String(request.headers.authorization ?? ''))
    const expected = Buffer.from(`Bearer ${CARRIER_TOKEN}`)
    if (given.length !== expected.length || !timingSafeEqual(given, expected)) return void response.writeHead(401).end('a wrong token')
    const { id, to, text, say, answerTo } = JSON.parse(body.toString()) as { id: string; to: string; text?: string; say?: string; answerTo?: string }
    if (!/^\+\d{6,15}$/.test(to)) return void response.writeHead(422).end('no such number')
    const said = text ?? say ?? ''
    const message = { key: id, at: Date.now(), to, subject: said.split(/\. /)[kind === 'voice' ? 1 : 0]!.slice(0, 120), text: said, urgent: true }
    if (kind === 'sms') this.tray.put({ ...message, by: 'sms' })
    else if (this.isUnanswered()) setTimeout(() => { if (answerTo) void tell(answerTo, { event: 'unanswered' }) }, RINGS)
    else {
      if (answerTo) this.calls.set(id, { to, answerTo })
      this.tray.put({ ...message, by: 'voice', call: answerTo !== undefined })
    }
    response.writeHead(202).end(kind === 'sms' ? 'taken' : 'it rings')
  }

  /** Presses a key in a call. Gives what was said then; undefined when there is no such call. */
  async press(id: string, key: string): Promise<string | undefined> {
    const call = this.calls.get(id)
    return call && tell(call.answerTo, { event: 'key', key })
  }
}

async function tell(answerTo: string, what: object): Promise<string> {
  const answer = await fetch(answerTo, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(what), signal: AbortSignal.timeout(5000) }).catch(() => undefined)
  return answer?.ok ? ((await answer.json()) as { say?: string }).say ?? '' : ''
}
