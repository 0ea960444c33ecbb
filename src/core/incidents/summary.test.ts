import { MINUTE } from '../units'
import { followUps } from './follow-ups'
import { draftSummary, type SummaryFacts } from './summary'

const at = Date.parse('2026-11-24T20:41:00Z')
const facts: SummaryFacts = {
  id: 7, checkName: 'Sailings *API*', trouble: 'down', sentence: 'the status is 503', since: at, lastPass: at - MINUTE, lastFail: at + 20 * MINUTE, endedAt: at + 21 * MINUTE, failing: 5, locations: 12, openedAt: at + MINUTE, takenAt: at + 5 * MINUTE, closedAt: at + 22 * MINUTE, holder: 'Ines Falk', notReal: false,
  parts: [{ name: 'Fares API', why: 'both use the address 198.51.100.14' }], messages: 3, service: 'Ticket sales, production', verdict: { title: 'edge-4 answered 503.', detail: 'It is for whoever runs the servers.', rows: [{ what: 'Server: edge-4', inside: '38 of 38 failing', outside: '0 of 154', accounts: 'all of the failures' }] },
  events: [{ at, kind: 'first-failure', title: 'First failure at Bergen', detail: '' }, { at: at + 6 * MINUTE, kind: 'note', title: 'Ines Falk', detail: 'Taken out of rotation.\n- [ ] look at its disk\n- [x] tell the **platform** team' }, { at: at + 22 * MINUTE, kind: 'closed', title: 'Ines Falk closed it', detail: 'a full disk' }]
}

describe('the summary of an incident', () => {
  const text = draftSummary(facts, 'Europe/Oslo', at + 60 * MINUTE)
  it('says what was recorded, and takes no name for mark-up', () => {
    expect(text).toContain('# Sailings \\*API\\* and 1 more were down')
    expect(text).toContain('It lasted: between 20 min and 22 min.')
    expect(text).toContain('edge-4 answered 503. It is for whoever runs the servers.')
    expect(text).toContain('| Server: edge-4 | 38 of 38 failing | 0 of 154 | all of the failures |')
    expect(text).toContain('Ines Falk took it 4 min after it was called.')
    expect(text).toContain('Cause as named by people: a full disk')
    expect(text).toContain('- 21:41:00 First failure at Bergen')
  })
  it('gathers follow-ups from notes', () => {
    expect(followUps(facts.events)).toEqual([{ text: 'look at its disk', done: false }, { text: 'tell the **platform** team', done: true }])
    expect(text).toMatch(/## Follow-ups\n\n- \[ \] look at its disk\n- \[x\] tell the \*\*platform\*\* team\n$/)
  })
  it('invents nothing', () => {
    const bare = draftSummary({ ...facts, parts: [], events: [], messages: 0, verdict: undefined, takenAt: undefined, holder: undefined, closedAt: undefined, endedAt: undefined }, 'UTC', at + 30 * MINUTE)
    for (const said of ['It is not over.', 'What sets it apart was not found', 'none was written down', 'Nobody was told.', 'Nobody took it.', 'None was written down.']) expect(bare).toContain(said)
  })
})
