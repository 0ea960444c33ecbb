'use client'

import { useMemo, useRef, useState } from 'react'
import type { CheckDocument } from '@/core/definitions/check'
import { same } from '@/core/definitions/differences'
import { withoutFields } from '@/core/definitions/without-fields'
import type { KindDefinition } from '@/core/definitions/kind'
import { settleCheck, type Settled, type Surroundings } from '@/core/layers/settle'
import { problemSentence } from '@/core/problems'
import { checkSentence, type CheckSentence } from '@/core/sentence/check-sentence'
import { giveBack, readPart } from '@/core/sentence/read-part'
import { INHERITED } from '@/core/layers/inherit'
import { kinds } from '@/kinds/definitions'
import { isFilledIn, NEW_NAME } from './blank'
import type { EditorChoices } from './choices'

/** A check while it is edited: its own document, what it comes to, and its sentence. */
export interface Draft {
  document: CheckDocument
  settled: Settled
  /** What is wrong as it stands, in words; the sentence then is that of the last document without mistakes. */
  problem?: string
  sentence: CheckSentence
  kind: KindDefinition
  hasTarget: boolean
  set: (changes: Partial<Record<string, unknown>>) => void
  /** Puts another document in place of this one, as when its kind changes. */
  replace: (document: CheckDocument) => void
  /** Takes what was typed into a part; gives what was expected instead. */
  commit: (part: string, text: string) => string | undefined
  /** Gives a part back to the service or the workspace. */
  giveBack: (part: string) => void
  /** What a part would be without the check's own value, where it has one and something else would count. */
  inheritedText: (part: string) => string | undefined
}

/** Keeps the draft of a check among its service and the workspace. */
export function useDraft(first: CheckDocument, choices: EditorChoices): Draft {
  const [document, setDocument] = useState(first)
  const surroundings = useMemo(() => surroundingsOf(document, choices), [document, choices])
  const named = useMemo(() => ({ ...document, name: document.name || NEW_NAME }), [document])
  const read = useMemo(() => settleCheck(named, surroundings, kinds), [named, surroundings])
  const last = useRef<Settled>(undefined)
  if ('settled' in read) last.current = read.settled
  const settled = last.current ?? mustSettle(first, choices)
  const kind = kinds[settled.check.kind] as unknown as KindDefinition
  const sentence = checkSentence(settled.check, kinds, choices.locations, settled)
  const without = useMemo(() => inheritedSentence(named, surroundings, choices), [named, surroundings, choices])
  return {
    document, settled, sentence, kind, hasTarget: isFilledIn(kind, settled.check.target),
    ...('problems' in read ? { problem: read.problems.map(problemSentence).join(' ') } : {}),
    set: (changes) => setDocument((before) => cleaned({ ...before, ...changes })),
    replace: setDocument,
    commit: (part, text) => {
      const result = readPart(named, settled, surroundings, kinds, part, text)
      if ('expected' in result) return result.expected
      const isFirstAddress = part === kind.addressPart && !isFilledIn(kind, settled.check.target)
      const next = part === 'name' ? result.document : { ...result.document, name: document.name }
      setDocument(isFirstAddress ? withFirstConditions(next, surroundings, kind) : next)
      return undefined
    },
    giveBack: (part) => setDocument((before) => giveBack(before, part)),
    inheritedText: (part) => {
      const origin = settled.origins[part]
      if (origin !== 'check') return undefined
      return without.get(part)
    }
  }
}

/** Fields that are undefined are taken out, so that the service's count again. */
function cleaned(document: CheckDocument): CheckDocument {
  return Object.fromEntries(Object.entries(document).filter(([, value]) => value !== undefined)) as CheckDocument
}

export function surroundingsOf(document: CheckDocument, { services, workspace }: EditorChoices): Surroundings {
  const service = services.find((each) => each.key === document.service)
  const declared = Object.fromEntries(((document.secrets ?? []) as string[]).map((name) => [name, '(hidden)']))
  return { ...(service ? { service: service.document } : {}), workspace: workspace.document, secrets: { check: declared, service: service?.secrets ?? {}, workspace: workspace.secrets } }
}

function mustSettle(document: CheckDocument, choices: EditorChoices): Settled {
  const read = settleCheck({ ...document, name: document.name || NEW_NAME }, surroundingsOf(document, choices), kinds)
  if ('settled' in read) return read.settled
  throw new Error(read.problems.map(problemSentence).join(' '))
}

/** The texts of all parts as the service and the workspace alone would have them. */
function inheritedSentence(document: CheckDocument, surroundings: Surroundings, choices: EditorChoices): Map<string, string> {
  const bare = withoutFields(document, INHERITED) as CheckDocument
  if (same(bare, document)) return new Map()
  const read = settleCheck(bare, surroundings, kinds)
  if ('problems' in read) return new Map()
  const { what, down, slow } = checkSentence(read.settled.check, kinds, choices.locations, read.settled)
  return new Map([...what, ...down, ...slow].flatMap((piece) => (piece.part && piece.origin && piece.origin !== 'built in' ? [[piece.part, piece.text] as const] : [])))
}

/** A new check begins with conditions that fit its address, as far as its service does not bring them. */
function withFirstConditions(document: CheckDocument, surroundings: Surroundings, kind: KindDefinition): CheckDocument {
  if (((surroundings.service?.pass ?? []) as unknown[]).length > 0) return document
  const read = settleCheck({ ...document, name: document.name || NEW_NAME }, surroundings, kinds)
  return 'settled' in read ? { ...document, pass: kind.firstConditions(kind.read(read.settled.resolved[kind.kind] as never)) } : document
}
