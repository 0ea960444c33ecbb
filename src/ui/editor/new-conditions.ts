import type { KindDefinition } from '@/core/definitions/kind'

const COMMON: { name: string; written: Record<string, unknown> }[] = [
  { name: 'the status', written: { status: '200-299' } },
  { name: 'a text is in the answer', written: { text: 'Welcome' } },
  { name: 'the answer matches a pattern', written: { pattern: '[Ww]elcome' } },
  { name: 'a value in JSON is …', written: { json: '$.status', is: 'ok' } },
  { name: 'a number in JSON lies within limits', written: { json: '$.queue', value: { max: 100, warn: 50 } } },
  { name: 'a list in JSON has so many items', written: { json: '$.items', count: { min: 1 } } },
  { name: 'a value in XML is …', written: { xml: '/status', is: 'ok' } },
  { name: 'a header contains …', written: { header: 'content-type', has: 'html' } },
  { name: 'the certificate lasts', written: { certificate: { min: '3d', warn: '14d' } } },
  { name: 'the size lies within limits', written: { size: { min: '1kB' } } },
  { name: 'a phase takes at most', written: { phase: 'wait', max: '2s', warn: '900ms' } }
]

/** Conditions that the editor offers for a kind to begin with; every part of them is then edited in the sentence. */
export function offered(kind: KindDefinition): { name: string; written: Record<string, unknown> }[] {
  const subjects = new Set<string>([...kind.subjects, ...(kind.phases.length > 0 ? ['phase'] : [])])
  const phase = kind.phases.includes('wait') ? 'wait' : 'total'
  const common = COMMON.filter(({ written }) => Object.keys(written).some((field) => subjects.has(field)))
    .map((each) => (each.written.phase === undefined ? each : { ...each, written: { ...each.written, phase } }))
  // what is measured beside a try comes after what is said of its answer
  return kind.measuresLine ? [...common, ...kind.offers] : [...kind.offers, ...common]
}
