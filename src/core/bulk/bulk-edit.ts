import type { CheckDocument } from '../definitions/check'
import { withoutFields } from '../definitions/without-fields'
import type { LocationChoice } from '../places/places'
import { changesOf, giveBack, putChanges } from '../sentence/read-part'

/** One change for many checks. Parts are those of a check's sentence, with what a person typed. */
export type BulkEdit =
  | { act: 'set'; part: string; text: string }
  | { act: 'give-back'; part: string }
  | { act: 'service'; key: string | null }
  | { act: 'from'; from: LocationChoice }
  | { act: 'add-tags' | 'remove-tags'; tags: string[] }

/** Parts that can be set for many checks, with what people call them and an example. */
export const BULK_PARTS: { part: string; name: string; example: string }[] = [
  { part: 'every', name: 'how often', example: '60 s' }, { part: 'wait', name: 'how long to wait', example: '10 s' }, { part: 'importance', name: 'importance', example: 'high' },
  { part: 'turns', name: 'together or in turn', example: 'in turn' }, { part: 'down.tries', name: 'failed tries until down', example: '3 of the last 5 tries' },
  { part: 'down.apart', name: 'pause between tries', example: '10 s' }, { part: 'down.locations', name: 'locations that must agree', example: '2' },
  { part: 'up.tries', name: 'passes until up', example: '2' }, { part: 'slow.above', name: 'limit for slow', example: '900 ms' }, { part: 'slow.for', name: 'how long above the limit', example: '5 min' },
  { part: 'hours', name: 'hours', example: 'mon-fri 06:00-22:00' }, { part: 'window', name: 'release window', example: 'only while a release window is open' }, { part: 'needs', name: 'checks it needs', example: 'booking-home' }
]

/** Applies one change to one check's own document, or says what was expected instead. */
export function applyEdit(document: CheckDocument, edit: BulkEdit): { document: CheckDocument } | { expected: string } {
  switch (edit.act) {
    case 'give-back': return { document: giveBack(document, edit.part) }
    case 'from': return { document: { ...document, from: edit.from } }
    case 'service': return { document: (edit.key === null ? withoutFields(document, ['service']) : { ...document, service: edit.key }) as CheckDocument }
    case 'add-tags': case 'remove-tags': return { document: withTags(document, edit.act, edit.tags) }
    case 'set': {
      if (!BULK_PARTS.some(({ part }) => part === edit.part)) return { expected: 'a part that can be set for many checks' }
      const changes = changesOf(edit.part, edit.text.trim())
      return 'expected' in changes ? { expected: changes.expected as string } : { document: putChanges(document, changes) }
    }
  }
}

function withTags(document: CheckDocument, act: 'add-tags' | 'remove-tags', tags: string[]): CheckDocument {
  const before = (document.tags as string[] | undefined) ?? []
  const after = act === 'add-tags' ? [...before, ...tags.filter((tag) => !before.includes(tag))] : before.filter((tag) => !tags.includes(tag))
  return (after.length > 0 ? { ...document, tags: after } : withoutFields(document, ['tags'])) as CheckDocument
}
