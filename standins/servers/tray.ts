import { appendFileSync, existsSync, readFileSync } from 'node:fs'

/** A message that arrived at a stand-in receiver. */
export interface Received {
  key: string
  at: number
  by: 'mail' | 'push' | 'webhook' | 'sms' | 'voice' | 'chat'
  to: string
  subject: string
  text: string
  link?: string
  urgent: boolean
  signed?: boolean
  /** Keys can be pressed in this call. */
  call?: boolean
}

/** Where messages of all receivers lie, to be read in the application. A repeat of one that came already is counted, not kept. */
export class Tray {
  private readonly messages: Received[] = []
  private readonly keys = new Set<string>()
  repeats = 0

  constructor(private readonly file: string) {
    if (!existsSync(file)) return
    for (const line of readFileSync(file, 'utf8').split('\n')) if (line !== '') this.keep(JSON.parse(line) as Received)
  }

  put(message: Received): void {
    const key = `${message.by}/${message.to}/${message.key}`
    if (this.keys.has(key)) {
      this.repeats += 1
      return
    }
    appendFileSync(this.file, `${JSON.stringify(message)}\n`)
    this.keep(message)
  }

  newest(limit: number): Received[] {
    return this.messages.slice(-limit).reverse()
  }

  get count(): number {
    return this.messages.length
  }

  private keep(message: Received): void {
    this.keys.add(`${message.by}/${message.to}/${message.key}`)
    this.messages.push(message)
  }
}
