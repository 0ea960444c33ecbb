import { followUps, openFollowUps } from './follow-ups'

const note = (detail: string, person = 'Ines') => ({ kind: 'note', detail, person })

describe('follow-ups', () => {
  it('are tasks of notes and those added by themselves, in their order', () => {
    expect(followUps([note('it was the disk\n- [ ] replace the disk\n* [x] tell the team\n- no task'), { kind: 'taken', detail: '- [ ] not this', person: 'Tomas' }, { kind: 'follow-up', detail: 'watch its load', person: 'Tomas' }])).toEqual([
      { text: 'replace the disk', done: false, by: 'Ines' }, { text: 'tell the team', done: true, by: 'Ines' }, { text: 'watch its load', done: false, by: 'Tomas' }
    ])
  })
  it('are as somebody said last, and stay where they came up', () => {
    const events = [note('- [ ] replace the disk'), note('- [ ] tell the team'), { kind: 'follow-up-done', detail: 'replace the disk', person: 'Tomas' }]
    expect(followUps(events)).toEqual([{ text: 'replace the disk', done: true, by: 'Tomas' }, { text: 'tell the team', done: false, by: 'Ines' }])
    expect(openFollowUps([...events.map((each) => ({ ...each, incident: 9 })), { ...note('- [ ] call the carrier'), incident: 4 }]).map((each) => [each.text, each.of.incident])).toEqual([['tell the team', 9], ['call the carrier', 4]])
    expect(followUps([...events, { kind: 'follow-up-open', detail: 'replace the disk', person: null }])[0]).toEqual({ text: 'replace the disk', done: false })
  })
})
