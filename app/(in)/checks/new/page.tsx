import type { CheckDocument } from '@/core/definitions/check'
import { checkByKey } from '@/store/checks'
import { database } from '@/store/database'
import { CheckEditor } from '@/ui/editor/check-editor'
import { NEW_KEY, NO_ADDRESS } from '@/ui/editor/blank'
import { editorChoices } from '../../../server/editor'

export const metadata = { title: 'New check' }

export default async function NewCheck({ searchParams }: { searchParams: Promise<{ copy?: string; service?: string }> }) {
  const { copy, service } = await searchParams
  const choices = await editorChoices()
  const source = copy ? await checkByKey(database(), copy) : undefined
  const blank: CheckDocument = { check: NEW_KEY, name: '', http: { url: NO_ADDRESS }, ...(choices.services.some((each) => each.key === service) ? { service } : {}) }
  return <CheckEditor document={source ? { ...source.document, check: NEW_KEY, name: `${source.check.name}, copy` } : blank} choices={choices} />
}
