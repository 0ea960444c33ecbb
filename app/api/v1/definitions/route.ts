import { answering, readText, requireToken } from '../../../server/requests'
import { exportFile } from '../../../server/export'
import { readDefinitions } from '@/core/files/read-definitions'
import { HemeronError } from '@/core/problems'
import { listChecks } from '@/store/checks'
import { database } from '@/store/database'
import { defineAll, previewDefinitions, type Wanted } from '@/store/define'
import { listServices } from '@/store/world'

export const dynamic = 'force-dynamic'

/** Definitions as a file; `service` narrows them, `as` chooses yaml, json or csv. */
export const GET = answering(async (request) => {
  await requireToken(request, 'read')
  const url = new URL(request.url)
  const service = url.searchParams.get('service')
  const checks = (await listChecks(database())).filter((stored) => service === null || stored.check.service === service)
  return exportFile(url.searchParams.get('as') ?? 'yaml', checks, await listServices(database()))
})

/** Applies definitions as a whole or not at all; with `preview=true` it only says what would happen. */
export const POST = answering(async (request) => {
  const person = await requireToken(request, 'write')
  const { offers, problems } = readDefinitions(await readText(request))
  if (problems.length > 0) throw new HemeronError('bad-document', undefined, problems)
  const wanted = offers.map(({ kind, document }): Wanted => ({ kind, key: kind === 'workspace' ? '' : String(document[kind]), document }))
  const preview = await previewDefinitions(database(), wanted)
  const isPreview = new URL(request.url).searchParams.get('preview') === 'true'
  if (!isPreview) await defineAll(database(), wanted, `Applied ${wanted.length} definitions`, person.id, Date.now())
  const names = (fresh: boolean) => preview.drafts.filter((draft) => (draft.before === null) === fresh).map((draft) => ({ kind: draft.kind, key: draft.key }))
  return Response.json({ new: names(true), changed: names(false), same: wanted.length - preview.drafts.length, problems: preview.problems })
})
