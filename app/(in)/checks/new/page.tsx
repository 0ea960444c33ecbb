import type { CheckDocument } from '@/core/definitions/check'
import { checkByKey } from '@/store/checks'
import { database } from '@/store/database'
import { CheckEditor } from '@/ui/editor/check-editor'
import { blankCheck, NEW_KEY } from '@/ui/editor/blank'
import { kinds } from '@/kinds/definitions'
import { editorChoices } from '../../../server/editor'

export const metadata = { title: 'New check' }

export default async function NewCheck({ searchParams }: { searchParams: Promise<{ copy?: string; service?: string; kind?: string }> }) {
  const { copy, service, kind } = await searchParams
  const choices = await editorChoices()
  const source = copy ? await checkByKey(database(), copy) : undefined
  const blank: CheckDocument = { ...blankCheck(kind && kind in kinds ? kind : 'http'), ...(choices.services.some((each) => each.key === service) ? { service } : {}) }
  return <CheckEditor document={source ? { ...source.document, check: NEW_KEY, name: `${source.check.name}, copy` } : blank} choices={choices} />
}
