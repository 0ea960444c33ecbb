'use client'

import { Button, Modal, SegmentedControl } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { useEffect, useState } from 'react'
import type { CheckDocument } from '@/core/definitions/check'
import { speakLength } from '@/core/definitions/duration'
import type { RuleReplay } from '@/core/replay/compare'
import { replay } from '../../../app/actions/replay'
import { Moment } from '../marks/moment'
import { StateMark } from '../marks/state-mark'

const times = (count: number, what: string) => `${count} ${what}${count === 1 ? '' : 's'}`
const alarms = (power: RuleReplay['wished']['power']) => (power.falseAlarms < 0.01 ? 'less than one false alarm in eight years' : `${power.falseAlarms < 1 ? power.falseAlarms.toFixed(2) : power.falseAlarms.toFixed(1)} false alarms a month`)

/** What the rule would have done on the recorded past, in one sentence; in full on request. */
export function ReplayLine({ checkKey, document, rules }: { checkKey: string | undefined; document: CheckDocument; rules: string }) {
  const [days, setDays] = useState('35')
  const [found, setFound] = useState<RuleReplay | null | { error: string }>()
  const [open, setOpen] = useState(false)
  const [settled] = useDebouncedValue(rules, 500)
  useEffect(() => {
    if (checkKey === undefined) return
    let over = false
    void replay(checkKey, document, Number(days)).then((result) => { if (!over) setFound('error' in result ? { error: result.error } : result.value) })
    return () => { over = true }
    // the rules decide, not the name or the address
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [checkKey, settled, days])
  if (checkKey === undefined || found === null) return <div className="quiet small">There is no record yet to replay this rule on.</div>
  if (found === undefined) return <div className="quiet small">Replaying the rule on the recorded past …</div>
  if ('error' in found) return <div className="quiet small">It could not be replayed: {found.error}</div>
  const { wished, present } = found
  return (
    <div className="small" role="status">
      Over the last {found.days} days this would have opened <b>{times(wished.incidents, 'incident')}</b>{wished.detection !== undefined && <>, called after {speakLength(wished.detection)} in the middle</>}{wished.incidents !== present.incidents || wished.messages !== present.messages ? <>; the present rule opens {present.incidents}</> : ', as the present rule does'}. Expect to find an outage within {speakLength(wished.power.detection)}, and {alarms(wished.power)}. <button type="button" style={{ all: 'unset', cursor: 'pointer', color: 'var(--action)', fontWeight: 600 }} onClick={() => setOpen(true)}>In full</button>
      <Modal opened={open} onClose={() => setOpen(false)} title="What this rule would have done" size={860}>
        <SegmentedControl size="xs" value={days} onChange={setDays} data={[{ value: '7', label: '7 days' }, { value: '14', label: '14 days' }, { value: '35', label: '35 days' }]} />
        <Comparison replay={found} />
        <p className="quiet small">{found.tries.toLocaleString('en-GB').replaceAll(',', ' ')} tries were played in {Math.round(found.took)} ms. Scheduled tries are taken as they were; a try the rule would have asked for has the outcome of the recorded one nearest in time at that location. {(found.chance * 100).toFixed(3)}% of tries fail by chance here. Whoever gets news today is counted.</p>
        <Button variant="default" onClick={() => setOpen(false)}>Close</Button>
      </Modal>
    </div>
  )
}

function Comparison({ replay: { wished, present, missed, added } }: { replay: RuleReplay }) {
  const rows: [string, string, string][] = [
    ['Incidents', `${wished.incidents} (${wished.down} down, ${wished.slow} slow)`, `${present.incidents} (${present.down} down, ${present.slow} slow)`],
    ['From the first bad try to the call', wished.detection === undefined ? '—' : speakLength(wished.detection), present.detection === undefined ? '—' : speakLength(present.detection)],
    ['Messages, and at night', `${wished.messages}, ${wished.atNight} at night`, `${present.messages}, ${present.atNight} at night`],
    ['Expected time to find an outage', speakLength(wished.power.detection), speakLength(present.power.detection)],
    ['Expected false alarms', alarms(wished.power), alarms(present.power)],
    ...wished.people.map((person, index): [string, string, string] => [`News to ${person.name}`, `${person.messages}, ${person.atNight} at night`, `${present.people[index]?.messages ?? 0}, ${present.people[index]?.atNight ?? 0} at night`])
  ]
  return (
    <>
      <table className="table" style={{ marginTop: 12 }}><thead><tr><th /><th>this rule</th><th>the present rule</th></tr></thead>
        <tbody>{rows.map(([name, left, right]) => <tr key={name}><td className="quiet">{name}</td><td className={left === right ? undefined : 'strong'}>{left}</td><td>{right}</td></tr>)}</tbody></table>
      <Incidents title="It would have missed" list={missed} />
      <Incidents title="It would have found in addition" list={added} />
    </>
  )
}

function Incidents({ title, list }: { title: string; list: RuleReplay['missed'] }) {
  const now = Date.now()
  if (list.length === 0) return <p className="small"><b>{title}:</b> <span className="quiet">nothing</span></p>
  return (
    <div className="small" style={{ marginTop: 10 }}><b>{title}: {list.length}</b>
      {list.slice(0, 12).map((incident) => <div key={incident.from} className="row" style={{ gap: 8, padding: '2px 0' }}><StateMark state={incident.trouble} /><Moment at={incident.from} now={now} /><span className="quiet">{incident.to === undefined ? 'still lasts' : `for ${speakLength(incident.to - incident.from)}`}, {incident.failing} {incident.failing === 1 ? 'location' : 'locations'}</span></div>)}
      {list.length > 12 && <div className="quiet">and {list.length - 12} more</div>}</div>
  )
}
