import { acceptedCheck } from '@/core/definitions/read-check'
import { kinds } from '@/kinds/definitions'
import { checkByKey } from '@/store/checks'
import { database } from '@/store/database'
import { CheckEditor } from '@/ui/editor/check-editor'
import { NEW_KEY, NO_ADDRESS } from '@/ui/editor/blank'
import { editorChoices } from '../../../server/editor'

export const metadata = { title: 'New check' }

export default async function NewCheck({ searchParams }: { searchParams: Promise<{ copy?: string; url?: string; service?: string }> }) {
  const { copy, service } = await searchParams
  const choices = await editorChoices()
  const source = copy ? await checkByKey(database(), copy) : undefined
  const blank = acceptedCheck({ check: NEW_KEY, name: '', http: { url: NO_ADDRESS }, ...(choices.services.some((each) => each.key === service) ? { service } : {}), down: { locations: Math.min(2, Math.max(1, choices.locations.length)) } }, kinds)
  return <CheckEditor check={source ? { ...source.check, key: NEW_KEY, name: `${source.check.name}, copy` } : blank} {...choices} />
}
