import type { Evidence } from '../../core/observation'

const LINES_MOST = 200
const LINE_MOST = 1000

/** Keeps what is said over a connection, as evidence. */
export class Talk {
  readonly lines: NonNullable<Evidence['talk']> = []

  constructor(private readonly started: number) {}

  sent(text: string): void {
    this.put('sent', text)
  }

  received(text: string): void {
    this.put('received', text)
  }

  /** Something that happened and was not said: TLS begins, the connection ends. */
  note(text: string): void {
    this.put('note', text)
  }

  private put(way: 'sent' | 'received' | 'note', text: string): void {
    if (this.lines.length < LINES_MOST) this.lines.push({ way, text: printable(text.slice(0, LINE_MOST)), ms: Math.round((performance.now() - this.started) * 10) / 10 })
  }
}

/** A text without control characters: they become dots, so that no answer can disturb a page or a terminal. */
export function printable(text: string): string {
  return text.replace(/[\u0000-\u0008\u000b-\u001f\u007f]/g, '·')
}
