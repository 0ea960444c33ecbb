import { madeWorld, type Cause } from './made-worlds'
import { splitAt } from './tries'
import { judge, type Verdict } from './verdict'
import { speakVerdict } from './verdict-words'

const NAMES: Record<string, string> = { Pacifico: 'Pacífico Cable', sailings: 'Sailings API' }
const judged = (cause: Cause, seed = 5): Verdict => {
  const { tries, stretch, networks } = madeWorld(seed, cause)
  const { inside, outside } = splitAt(tries, stretch)
  return judge(inside, outside, 'total', [], networks)
}
const said = (verdict: Verdict, status?: string) => speakVerdict(verdict, (_, value) => NAMES[value] ?? value, status === undefined ? {} : { status })

describe('the words of a verdict', () => {
  it.each([
    ['server fails', /^edge-\d answered 503\.$/], ['server fails at times', /^edge-\d answered 503 in \d\d% of tries\.$/], ['server slow', /^edge-\d was slow to answer\.$/], ['network slow', /^\S.* was slow to connect, because it lost packets\.$/], ['network fails', /^\S.* failed in \d\d% of tries: timed out at connect\.$/],
    ['check slow', /^\S.* was slow to answer\.$/], ['name service slow', /^Everything was slow to find the name, wherever it is asked from\.$/], ['everything fails', /^Everything answered 503, wherever it is asked from\.$/], ['none', /^Nothing sets this stretch apart\.$/]
  ] as const)('say of “%s” what is affected and how', (cause, title) => expect(said(judged(cause), '503').title).toMatch(title))
  it('name what is asked about where it is one thing', () => expect(speakVerdict(judged('everything fails'), (_, value) => value, { status: '503', whole: 'Sailings API' }).title).toBe('Sailings API answered 503, wherever it is asked from.'))
  it('claim nothing of what was not asked about', () => expect(speakVerdict(judged('everything fails'), (_, value) => value, { status: '503', whole: 'Sailings API', isNarrowed: true }).title).toBe('Everything that is asked about answered 503.'))
  it('say of two things that only both explain it', () => expect(said(judged('server fails for one check'), '503').title).toMatch(/^\S.*, only with \S.*, answered 503/))
  it('say who need not be called, how much was looked at and how certain it is', () => {
    const { detail, rows } = said(judged('server fails'), '503')
    expect(detail).toMatch(/It is for whoever runs the servers\. The hosting, the name service and all 8 networks need not be called\. [\d\u202f]+ observations in the stretch, \d+ of them failing; certain beyond chance\.$/)
    expect(rows[0]).toMatchObject({ what: expect.stringMatching(/^Server: edge-\d$/), accounts: 'all of the failures', strong: true })
    expect(rows.at(-1)).toMatchObject({ accounts: 'nothing' })
  })
  it('prove it in rows: what cannot be told from it, what moves with it, which phases', () => {
    const { rows } = said(judged('network slow'))
    const of = (what: RegExp) => rows.find((each) => what.test(each.what))
    expect(of(/^Location: /)?.accounts).toBe('cannot be told from its network')
    expect(of(/^Packet loss on it$/)).toMatchObject({ accounts: 'moves with connect time', inside: expect.stringMatching(/^\d+(\.\d)?%$/) })
    expect(of(/^Connect$/)?.accounts).toMatch(/^\d+% of the excess$/)
  })
  it('claim nothing where there is too little', () => {
    const { tries, stretch, networks } = madeWorld(4, 'server fails')
    const { inside, outside } = splitAt(tries, { from: stretch.from, to: stretch.from + 2000 })
    expect(said(judge(inside, outside, 'total', [], networks)).title).toBe('Not enough observations to say what sets this apart.')
  })
})
