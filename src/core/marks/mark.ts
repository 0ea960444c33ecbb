import * as yup from 'yup'
import { choiceField, keyField, needed, textField } from '../definitions/fields'
import { exactly, problemsOf } from '../definitions/problems-of'
import type { Problem } from '../problems'
import { DAY, type Instant } from '../units'

export const MARK_KINDS = ['release', 'change', 'note'] as const
export type MarkKind = (typeof MARK_KINDS)[number]

/** A point in time worth remembering. Without a service and a check it belongs to everything. */
export interface Mark {
  id: number
  at: Instant
  kind: MarkKind
  title: string
  detail: string
  service: string | null
  check: string | null
  person: string | null
}

export interface MarkDraft { at: Instant; kind: MarkKind; title: string; detail: string; service?: string; check?: string }

const schema = exactly({
  at: yup.string().test('at', 'a time such as 2026-11-24T14:21:05Z', (value) => value === undefined || !Number.isNaN(Date.parse(value))),
  kind: choiceField([...MARK_KINDS]), title: needed(textField(200), 'a title of 1 to 200 characters'), detail: yup.string().max(2000, 'at most 2000 characters'), service: keyField(), check: keyField()
})

/** Reads a mark as the API and forms give it; without a time it is now, and it lies at most a year back and a day ahead. */
export function readMark(given: unknown, now: Instant): { mark: MarkDraft } | { problems: Problem[] } {
  const problems = problemsOf(schema, given)
  if (problems.length > 0) return { problems }
  const { at, kind = 'note', title, detail = '', service, check } = given as { at?: string; kind?: MarkKind; title: string; detail?: string; service?: string; check?: string }
  const moment = at === undefined ? now : Date.parse(at)
  if (moment > now + DAY || moment < now - 366 * DAY) return { problems: [{ path: 'at', found: `"${at}"`, expected: 'a time from a year ago to a day ahead' }] }
  return { mark: { at: moment, kind, title, detail, ...(service === undefined ? {} : { service }), ...(check === undefined ? {} : { check }) } }
}
