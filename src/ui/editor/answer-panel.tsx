'use client'

import { Button, Loader, Tabs } from '@mantine/core'
import { useState } from 'react'
import { speakLength, speakMilliseconds } from '@/core/definitions/duration'
import { speakSize } from '@/core/definitions/size'
import type { Observation } from '@/core/observation'
import { shortReason } from '@/core/reasons/reasons'
import type { CheckState } from '@/core/states/check-state'
import { StateMark } from '../marks/state-mark'
import { useNow } from '../marks/moment'
import { JsonAnswer } from './json-answer'

export interface TryState {
  at: number
  locations: { id: number; place: string }[]
  answers: Map<number, Observation>
  running: boolean
  error?: string
}

const MARKS: Record<Observation['verdict'], CheckState> = { pass: 'up', warn: 'warning', slow: 'slow', fail: 'down' }
const RANK = { fail: 0, slow: 1, warn: 2, pass: 3 }

/** What the target answers right now, from every location, and the whole answer of one of them. */
export function AnswerPanel({ attempt, again, addCondition, conditions }: {
  attempt: TryState | undefined
  again: () => void
  addCondition: (written: Record<string, unknown>) => void
  conditions: { json: string; number: number }[]
}) {
  const [chosen, setChosen] = useState<number>()
  const now = useNow(attempt?.at ?? 0)
  if (!attempt) return <div className="card empty quiet">Type an address, and it is tried at once from the chosen locations.</div>
  const answered = [...attempt.answers.values()].sort((a, b) => RANK[a.verdict] - RANK[b.verdict] || attempt.locations.findIndex((each) => each.id === a.location) - attempt.locations.findIndex((each) => each.id === b.location))
  const place = (id: number) => attempt.locations.find((each) => each.id === id)?.place ?? ''
  const folded = fold(answered)
  const shown = attempt.answers.get(chosen ?? -1) ?? answered.find((each) => each.verdict === 'fail') ?? answered[0]
  return (
    <>
      <div className="apart" style={{ minHeight: 34, marginBottom: 6 }}>
        <h2>What it answers right now</h2>
        <span className="row small quiet" role="status">
          {attempt.running ? <><Loader size={14} /> {answered.length} of {attempt.locations.length} answered</> : `tried ${speakLength(Math.max(0, now - attempt.at))} ago`}
          <Button variant="default" onClick={again} disabled={attempt.running}>Try again</Button>
        </span>
      </div>
      {attempt.error && <div className="notice trouble" role="alert">{attempt.error}</div>}
      {answered.length > 0 && (
        <div className="card scroll">
          <table className="table" aria-label="Answers by location"><tbody>
            {folded.shown.map((each) => (
              <tr key={each.location} className="opens" style={{ cursor: 'pointer', background: each === shown ? 'color-mix(in srgb, var(--action-soft) 60%, transparent)' : undefined }} onClick={() => setChosen(each.location)}>
                <td style={{ width: 30 }}><StateMark state={MARKS[each.verdict]} title={each.verdict} /></td>
                <td style={{ width: 150 }}><button type="button" style={{ all: 'unset', cursor: 'pointer', fontWeight: 600 }} onClick={() => setChosen(each.location)}>{place(each.location)}</button></td>
                <td>{each.verdict === 'pass' ? <span className="code">{each.status}</span> : <><b className={each.verdict === 'fail' ? 'down-text' : 'slow-text'}>{each.reason === 'status' ? `status ${each.status}` : shortReason(each.reason)}</b> <span className="quiet small">{each.sentence}</span></>}</td>
                <td className="number"><span className={each.verdict === 'slow' ? 'slow-text strong' : undefined}>{each.verdict === 'fail' && each.status === undefined ? '—' : speakMilliseconds(each.total)}</span></td>
              </tr>
            ))}
            {folded.groups.map((group) => (
              <tr key={group[0]!.location}><td><StateMark state={MARKS[group[0]!.verdict]} title={group[0]!.verdict} /></td><td className="strong">{group.length} more</td>
                <td className="quiet">{group[0]!.verdict === 'pass' ? <span className="code">{group[0]!.status}</span> : 'the same'}</td>
                <td className="number" style={{ whiteSpace: 'nowrap' }}>{Math.round(Math.min(...group.map((each) => each.total)))} to {speakMilliseconds(Math.max(...group.map((each) => each.total)))}</td></tr>
            ))}
          </tbody></table>
        </div>
      )}
      {shown && <WholeAnswer observation={shown} place={place(shown.location)} addCondition={addCondition} conditions={conditions} />}
    </>
  )
}

/** Locations that answer alike are one line once they are many; what differs is always shown. */
function fold(answered: Observation[]): { shown: Observation[]; groups: Observation[][] } {
  const alike = new Map<string, Observation[]>()
  for (const each of answered) {
    const key = `${each.verdict}/${each.sentence ?? each.status}`
    alike.set(key, [...(alike.get(key) ?? []), each])
  }
  const shown: Observation[] = []
  const groups: Observation[][] = []
  for (const group of alike.values()) {
    const first = group.length <= 6 ? group.length : group[0]!.verdict === 'pass' ? 4 : 2
    shown.push(...group.slice(0, first))
    if (group.length > first) groups.push(group.slice(first))
  }
  return { shown, groups }
}

function WholeAnswer({ observation, place, addCondition, conditions }: { observation: Observation; place: string; addCondition: (written: Record<string, unknown>) => void; conditions: { json: string; number: number }[] }) {
  const { evidence } = observation
  const answer = evidence?.answer
  return (
    <div className="card" style={{ marginTop: 12 }}>
      <Tabs defaultValue="body" keepMounted={false}>
        <Tabs.List px={10}>
          <Tabs.Tab value="body">Body</Tabs.Tab>
          <Tabs.Tab value="headers">Headers {answer?.headers.length ?? ''}</Tabs.Tab>
          <Tabs.Tab value="certificate">Certificate</Tabs.Tab>
          <Tabs.Tab value="lookup">Lookup</Tabs.Tab>
          <span className="quiet small" style={{ marginLeft: 'auto', alignSelf: 'center', padding: '0 6px' }}>{place}{answer && `, ${speakSize(answer.bodyBytes)}, ${observation.protocol}`}</span>
        </Tabs.List>
        {evidence?.variables && <div className="small quiet" style={{ padding: '8px 14px 0' }}>{evidence.variables.map(({ name, value, from }, index) => <span key={name}>{index > 0 && ' · '}<code>{name}</code> was <code>{value ?? 'a secret'}</code>, from the {from}</span>)}</div>}
        <div style={{ padding: 14, maxHeight: 420, overflow: 'auto' }} tabIndex={0} role="group" aria-label="The answer">
          <Tabs.Panel value="body">{answer ? <JsonAnswer body={answer.body} cut={answer.bodyCut} addCondition={addCondition} conditions={conditions} /> : <NoAnswer observation={observation} />}</Tabs.Panel>
          <Tabs.Panel value="headers">{answer ? <pre><b>{observation.protocol} {answer.status} {answer.statusText}</b>{'\n'}{answer.headers.map(([name, value]) => `${name}: ${value}`).join('\n')}</pre> : <NoAnswer observation={observation} />}</Tabs.Panel>
          <Tabs.Panel value="certificate"><Certificate observation={observation} /></Tabs.Panel>
          <Tabs.Panel value="lookup"><Lookup observation={observation} /></Tabs.Panel>
        </div>
      </Tabs>
    </div>
  )
}

function NoAnswer({ observation }: { observation: Observation }) {
  return <div><b className="down-text">{shortReason(observation.reason)}</b><div>{observation.sentence}</div></div>
}

function Certificate({ observation }: { observation: Observation }) {
  const certificate = observation.evidence?.certificate
  if (!certificate) return <span className="quiet">There was no certificate.</span>
  const facts: [string, string][] = [
    ['for', certificate.subject], ['names', certificate.names.join(', ')], ['issued by', certificate.issuer], ['from', new Date(certificate.validFrom).toISOString().slice(0, 10)],
    ['until', new Date(certificate.validTo).toISOString().slice(0, 10)], ['trusted', certificate.trusted ? 'yes' : `no, ${certificate.distrust}`], ['protocol', `${certificate.protocol}, ${certificate.cipher}`]
  ]
  return <pre>{facts.map(([name, value]) => `${name.padEnd(10)} ${value}`).join('\n')}</pre>
}

function Lookup({ observation }: { observation: Observation }) {
  const lookup = observation.evidence?.lookup
  if (!lookup) return <span className="quiet">The address is a number; nothing had to be looked up.</span>
  return <pre>{`name       ${lookup.name}\nresolver   ${lookup.resolver || 'unknown'}\nanswer     ${lookup.error ?? lookup.answers.join(', ')}\ntook       ${speakMilliseconds(lookup.ms)}\nused       ${observation.address ?? 'none'}`}</pre>
}
