/** Something to be done after an incident. */
export interface FollowUp {
  text: string
  done: boolean
  /** Who said last that it is to be done, or done; undefined where a note was written by nobody that is known. */
  by?: string
}

/** What is known of an incident that follow-ups can be read from. */
export interface FollowUpEvent { kind: string; detail: string; person?: string | null }

/** Lines of notes that begin as tasks do in Markdown (GitHub Flavored Markdown, section 5.3). */
const TASK = /^\s*[-*] \[( |x)\] (.+)$/i
const KINDS: Record<string, boolean> = { 'follow-up': false, 'follow-up-done': true, 'follow-up-open': false }
export const FOLLOW_UP_MOST = 300

/** The follow-ups of an incident, in the order in which they came up: tasks of notes, and those that were added by themselves. What was said of one last holds. */
export function followUps(events: readonly FollowUpEvent[]): FollowUp[] {
  const found = new Map<string, FollowUp>()
  const say = (text: string, done: boolean, { person }: FollowUpEvent) => void found.set(text, { text, done, ...(person ? { by: person } : {}) })
  for (const event of events) {
    const isDone = KINDS[event.kind]
    if (isDone !== undefined) say(event.detail, isDone, event)
    if (event.kind !== 'note') continue
    for (const line of event.detail.split('\n')) {
      const task = TASK.exec(line)
      if (task) say(task[2]!.trim(), task[1] !== ' ', event)
    }
  }
  return [...found.values()]
}

/** What is still to be done, of many incidents, in the order of their events. */
export function openFollowUps<Event extends FollowUpEvent & { incident: number }>(events: readonly Event[]): (FollowUp & { of: Event })[] {
  const incidents = new Map<number, Event[]>()
  for (const event of events) {
    const own = incidents.get(event.incident)
    if (own) own.push(event)
    else incidents.set(event.incident, [event])
  }
  return [...incidents.values()].flatMap((own) => followUps(own).filter((each) => !each.done).map((each) => ({ ...each, of: own[0]! })))
}
