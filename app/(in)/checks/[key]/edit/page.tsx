import { notFound } from 'next/navigation'
import { checkByKey } from '@/store/checks'
import { database } from '@/store/database'
import { CheckEditor } from '@/ui/editor/check-editor'
import { editorChoices } from '../../../../server/editor'

export const metadata = { title: 'Edit check' }

export default async function EditCheck({ params, searchParams }: { params: Promise<{ key: string }>; searchParams: Promise<{ part?: string }> }) {
  const { key } = await params
  const { part } = await searchParams
  const stored = await checkByKey(database(), key)
  if (!stored) notFound()
  return <CheckEditor document={stored.document} editing={{ key, version: stored.version }} choices={await editorChoices()} {...(part ? { openPart: part } : {})} />
}
