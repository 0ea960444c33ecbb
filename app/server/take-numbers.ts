import { toldCheck } from './inlet'
import { answering, readText } from './requests'
import { readPushed } from '@/core/numbers/read-pushed'
import { NumbersError } from '@/core/numbers/sample'
import { HemeronError } from '@/core/problems'
import { database } from '@/store/database'
import { putNumbers } from '@/store/inbox'

/** Takes numbers: an object in JSON, an exposition as text, or an OTLP/HTTP request in JSON. */
export const takeNumbers = answering<{ params: Promise<{ inlet: string }> }>(async (request, { params }) => {
  const stored = await toldCheck((await params).inlet, 'numbers')
  const type = request.headers.get('content-type') ?? ''
  if (/protobuf/.test(type)) throw new HemeronError('bad-request', 'OTLP is taken as JSON: set the exporter to http/json.')
  const text = await readText(request)
  try {
    const samples = readPushed(text, type)
    // an exporter with nothing to say has said nothing
    if (samples.length > 0) await putNumbers(database(), stored.id, samples, Date.now())
  } catch (error) {
    if (error instanceof NumbersError) throw new HemeronError('bad-document', undefined, [{ path: '', found: error.message, expected: 'numbers by name as JSON, an exposition, or OTLP in JSON' }])
    throw error
  }
  // what OTLP expects of a request that was taken whole
  return Response.json({ partialSuccess: {} })
})
