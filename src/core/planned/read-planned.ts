import * as yup from 'yup'
import { choiceField, durationField, keyField, localField, needed, textField } from '../definitions/fields'
import { exactly, problemsOf } from '../definitions/problems-of'
import type { Problem } from '../problems'
import { isZone } from '../time/zoned'
import { DAY, MINUTE } from '../units'
import { acceptedPlanned, type Planned, type PlannedDocument } from './planned'
import { firstOccurrence, ruleProblem } from './recurrence'

const keys = () => yup.array(needed(textField(100), 'a key or a tag')).max(500, 'at most 500')

const schema = exactly({
  planned: needed(keyField(), 'the key of the planned work'), title: needed(textField(200), 'a title of 1 to 200 characters'), public: textField(2000), does: choiceField(['work', 'window']),
  from: needed(localField(), 'a local time such as 2026-11-24T02:00'),
  zone: yup.mixed<string>().test('zone', 'an IANA time zone such as Europe/Oslo', (zone) => typeof zone === 'string' && isZone(zone)),
  lasts: needed(durationField(MINUTE, 60 * DAY), 'a duration from 1 min to 60 days'), repeats: textField(500), except: yup.array(localField()).max(500, 'at most 500'),
  for: exactly({ services: keys(), tags: keys(), checks: keys() }).default(undefined)
})

/** Reads planned work; a rule for repeating that cannot be read or never fires is a problem. */
export function readPlanned(document: unknown): { planned: Planned } | { problems: Problem[] } {
  const problems = problemsOf(schema, document)
  if (problems.length > 0) return { problems }
  const planned = acceptedPlanned(document as PlannedDocument)
  const wrong = planned.repeats === undefined ? undefined : ruleProblem(planned.repeats)
  if (wrong) return { problems: [{ path: 'repeats', found: `"${planned.repeats}"`, expected: wrong }] }
  if (firstOccurrence(planned) === undefined) return { problems: [{ path: 'repeats', found: `"${planned.repeats}"`, expected: 'a rule that fires within nine years of the beginning; this one never does' }] }
  return { planned }
}
