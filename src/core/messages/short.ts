import type { Message } from './message'

/** What follows in the same line begins a sentence of its own. */
const ended = (line: string) => (/[.!?…]$/.test(line) ? line : `${line}.`)

/** A text message: what is said first, cut to a length, with the link kept whole. */
export function shortText({ subject, lines, link }: Pick<Message, 'subject' | 'lines' | 'link'>, most = 300): string {
  const tail = link === undefined ? '' : ` ${link}`
  const said = [`${subject}.`, ...lines.slice(1).filter((line) => /^(Why|Where|Since|It lasted|With it|Your code)/.test(line)).map(ended)].join(' ')
  const room = most - tail.length
  return `${said.length > room ? `${said.slice(0, room - 1).trimEnd()}…` : said}${tail}`
}

/** What is read aloud in a call. Addresses and links are left out: nobody can write them down from a voice. */
export function spokenText({ subject, lines, news }: Pick<Message, 'subject' | 'lines' | 'news'>, keys: { take: boolean }): string {
  const said = lines.slice(1).filter((line) => /^(Why|Where|It lasted|Your code)/.test(line)).map(ended)
  return [`Hemeron. ${subject}.`, ...said, ...(keys.take && news !== 'over' ? ['To take it, press 1.'] : [])].join(' ').replace(/https?:\/\/\S+/g, 'an address').replace(/\s+/g, ' ')
}
