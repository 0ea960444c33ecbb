import { differences, speakValue } from '@/core/definitions/differences'

/** What differs between two versions of a definition, a line each: the place, what it was, what it is. */
export function DifferenceList({ before, after, most = 12 }: { before: unknown; after: unknown; most?: number }) {
  const list = differences(before ?? {}, after ?? {})
  return (
    <>
      {list.slice(0, most).map((each) => <div key={each.path} style={{ overflowWrap: 'anywhere' }}><span className="code">{each.path}</span> <span className="quiet">{speakValue(each.before)} →</span> {speakValue(each.after)}</div>)}
      {list.length > most && <div className="quiet">and {list.length - most} more places</div>}
    </>
  )
}
