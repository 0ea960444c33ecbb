'use client'

import { Button, Loader, Tabs } from '@mantine/core'
import { useState } from 'react'
import { speakLength, speakMilliseconds } from '@/core/definitions/duration'
import { speakSize } from '@/core/definitions/size'
import { speakReadings } from '@/core/conditions/glance'
import type { KindDefinition } from '@/core/definitions/kind'
import type { CertificateFacts, Evidence, Observation } from '@/core/observation'
import { shortReason } from '@/core/reasons/reasons'
import type { CheckState } from '@/core/states/check-state'
import { StateMark } from '../marks/state-mark'
import { useNow } from '../marks/moment'
import { Found, TalkView } from '../evidence/found'
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
export function AnswerPanel({ kind, attempt, again, addCondition, conditions }: {
  kind: KindDefinition
  attempt: TryState | undefined
  again: () => void
  addCondition: (written: Record<string, unknown>) => void
  conditions: { json: string; number: number }[]
}) {
  const [chosen, setChosen] = useState<number>()
  const now = useNow(attempt?.at ?? 0)
  if (!attempt) return <div className="card empty quiet">{kind.members ? 'Choose the checks, and they are judged at once.' : 'Type an address, and it is tried at once from the chosen locations.'}</div>
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
                <td>{each.verdict === 'pass' ? <Glance kind={kind} observation={each} /> : <><b className={each.verdict === 'fail' ? 'down-text' : 'slow-text'}>{each.reason === 'status' ? `status ${each.status}` : shortReason(each.reason)}</b> <span className="quiet small">{each.sentence}</span></>}</td>
                <td className="number"><span className={each.verdict === 'slow' ? 'slow-text strong' : undefined}>{each.verdict === 'fail' && each.status === undefined ? '—' : speakMilliseconds(each.total)}</span></td>
              </tr>
            ))}
            {folded.groups.map((group) => (
              <tr key={group[0]!.location}><td><StateMark state={MARKS[group[0]!.verdict]} title={group[0]!.verdict} /></td><td className="strong">{group.length} more</td>
                <td className="quiet">{group[0]!.verdict === 'pass' ? <Glance kind={kind} observation={group[0]!} /> : 'the same'}</td>
                <td className="number" style={{ whiteSpace: 'nowrap' }}>{Math.round(Math.min(...group.map((each) => each.total)))} to {speakMilliseconds(Math.max(...group.map((each) => each.total)))}</td></tr>
            ))}
          </tbody></table>
        </div>
      )}
      {shown && <WholeAnswer key={kind.kind} kind={kind} observation={shown} place={place(shown.location)} addCondition={addCondition} conditions={conditions} />}
    </>
  )
}

/** A passing answer in a word or two: its status, or its first numbers. */
function Glance({ kind, observation: { status, readings = {}, evidence } }: { kind: KindDefinition; observation: Observation }) {
  const numbers = speakReadings(kind, readings) || evidence?.facts?.[0]?.[1]
  return status !== undefined && kind.subjects.includes('status') ? <span className="code">{status}</span> : <span className="quiet">{numbers ?? 'answers'}</span>
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

function WholeAnswer({ kind, observation, place, addCondition, conditions }: { kind: KindDefinition; observation: Observation; place: string; addCondition: (written: Record<string, unknown>) => void; conditions: { json: string; number: number }[] }) {
  const { evidence } = observation
  const answer = evidence?.answer
  const tabs = tabsOf(kind, observation, addCondition, conditions)
  return (
    <div className="card" style={{ marginTop: 12 }}>
      <Tabs defaultValue={tabs[0]![0]} keepMounted={false}>
        <Tabs.List px={10}>
          {tabs.map(([tab, label]) => <Tabs.Tab key={tab} value={tab}>{label}</Tabs.Tab>)}
          <span className="quiet small" style={{ marginLeft: 'auto', alignSelf: 'center', padding: '0 6px' }}>{[place, ...(answer ? [speakSize(answer.bodyBytes)] : []), ...(observation.protocol ? [observation.protocol] : [])].join(', ')}</span>
        </Tabs.List>
        {evidence?.variables && <div className="small quiet" style={{ padding: '8px 14px 0' }}>{evidence.variables.map(({ name, value, from }, index) => <span key={name}>{index > 0 && ' · '}<code>{name}</code> was <code>{value ?? 'a secret'}</code>, from the {from}</span>)}</div>}
        <div style={{ padding: 14, maxHeight: 420, overflow: 'auto' }} tabIndex={0} role="group" aria-label="The answer">
          {tabs.map(([tab, , content]) => <Tabs.Panel key={tab} value={tab}>{observation.verdict === 'fail' && tab === tabs[0]![0] && !answer && <NoAnswer observation={observation} />}{content}</Tabs.Panel>)}
        </div>
      </Tabs>
    </div>
  )
}

/** What there is to see of one try: only what its kind has. */
function tabsOf(kind: KindDefinition, observation: Observation, addCondition: (written: Record<string, unknown>) => void, conditions: { json: string; number: number }[]): [string, string, React.ReactNode][] {
  const { evidence, readings } = observation
  const answer = evidence?.answer
  const hasNumbers = Object.keys(readings ?? {}).some((name) => kind.readings[name] !== undefined)
  const hasFound = (hasNumbers && !kind.measuresLine) || evidence?.facts !== undefined || evidence?.tables !== undefined
  const tabs: [string, string, React.ReactNode][] = []
  if (hasFound) tabs.push(['found', 'What it found', <Found key="found" evidence={evidence} {...(readings ? { readings } : {})} known={kind.readings} />])
  if (answer) tabs.push(['body', 'Body', <JsonAnswer key="body" body={answer.body} cut={answer.bodyCut} addCondition={addCondition} conditions={conditions} />])
  if (answer && answer.headers.length > 0) tabs.push(['headers', `Headers ${answer.headers.length}`, <pre key="headers"><b>{observation.protocol} {answer.status} {answer.statusText}</b>{'\n'}{answer.headers.map(([name, value]) => `${name}: ${value}`).join('\n')}</pre>])
  if (evidence?.talk) tabs.push(['talk', 'What was said', <TalkView key="talk" talk={evidence.talk} />])
  if (evidence?.certificate) tabs.push(['certificate', 'Certificate', <Certificate key="certificate" certificate={evidence.certificate} />])
  if (evidence?.lookup) tabs.push(['lookup', 'Lookup', <Lookup key="lookup" lookup={evidence.lookup} used={observation.address} />])
  if (hasNumbers && kind.measuresLine) tabs.push(['line', 'The line', <Found key="line" evidence={undefined} readings={readings!} known={kind.readings} />])
  return tabs.length > 0 ? tabs : [['none', 'Answer', observation.verdict === 'fail' ? null : <span key="none" className="quiet">It answers; there is nothing more to see.</span>]]
}

function NoAnswer({ observation }: { observation: Observation }) {
  return <div><b className="down-text">{shortReason(observation.reason)}</b><div>{observation.sentence}</div></div>
}

function Certificate({ certificate }: { certificate: CertificateFacts }) {
  const facts: [string, string][] = [
    ['for', certificate.subject], ['names', certificate.names.join(', ')], ['issued by', certificate.issuer], ...(certificate.chain ? [['through', certificate.chain.map((each) => each.subject).join(', ')] as [string, string]] : []), ['from', new Date(certificate.validFrom).toISOString().slice(0, 10)],
    ['until', new Date(certificate.validTo).toISOString().slice(0, 10)], ['trusted', certificate.trusted ? 'yes' : `no, ${certificate.distrust}`], ['protocol', `${certificate.protocol}, ${certificate.cipher}`]
  ]
  return <pre>{facts.map(([name, value]) => `${name.padEnd(10)} ${value}`).join('\n')}</pre>
}

function Lookup({ lookup, used }: { lookup: NonNullable<Evidence['lookup']>; used: string | undefined }) {
  return <pre>{`name       ${lookup.name}\nresolver   ${lookup.resolver || 'unknown'}\nanswer     ${lookup.error ?? lookup.answers.join(', ')}\ntook       ${speakMilliseconds(lookup.ms)}\nused       ${used ?? 'none'}`}</pre>
}
