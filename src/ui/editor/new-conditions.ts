/** Conditions that the editor offers to begin with; every part of them is then edited in the sentence. */
export const NEW_CONDITIONS: { name: string; written: Record<string, unknown> }[] = [
  { name: 'the status', written: { status: '200-299' } },
  { name: 'a text is in the answer', written: { text: 'Welcome' } },
  { name: 'the answer matches a pattern', written: { pattern: '[Ww]elcome' } },
  { name: 'a value in JSON is …', written: { json: '$.status', is: 'ok' } },
  { name: 'a number in JSON lies within limits', written: { json: '$.queue', value: { max: 100, warn: 50 } } },
  { name: 'a list in JSON has so many items', written: { json: '$.items', count: { min: 1 } } },
  { name: 'a header contains …', written: { header: 'content-type', has: 'html' } },
  { name: 'the certificate lasts', written: { certificate: { min: '3d', warn: '14d' } } },
  { name: 'the size lies within limits', written: { size: { min: '1kB' } } },
  { name: 'a phase takes at most', written: { phase: 'wait', max: '2s', warn: '900ms' } }
]
