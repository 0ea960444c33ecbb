'use client'

import { Button, Checkbox, Select, Textarea, TextInput } from '@mantine/core'
import { StepConditions } from './step-conditions'
import { withoutFields } from '@/core/definitions/without-fields'
import { TAKEN_FROM, type SequenceTarget, type Step, type Taking } from '@/kinds/sequence/target'

type Part = 'before' | 'steps' | 'after'
const PARTS: { part: Part; name: string; hint: string }[] = [
  { part: 'before', name: 'Preparation', hint: 'runs first' }, { part: 'steps', name: 'Requests', hint: 'what is checked' }, { part: 'after', name: 'Clean-up', hint: 'runs in any case, also after a failure' }
]
const mono = { input: { fontFamily: 'var(--mantine-font-family-monospace)' } }
const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'HEAD', 'OPTIONS']

/** The requests of a sequence: preparation, what is checked, clean-up. Values are taken from answers by name and used as {=name}. */
export function StepsForm({ target, change }: { target: SequenceTarget; change: (target: SequenceTarget) => void }) {
  const put = (part: Part, steps: Step[]) => change({ ...target, [part]: steps })
  return (
    <div style={{ padding: '10px 0' }}>
      {PARTS.map(({ part, name, hint }) => (
        <section key={part} aria-label={name} style={{ marginBottom: 10 }}>
          <div><b>{name}</b> <span className="quiet small">{hint}</span></div>
          {target[part].map((step, index) => (
            <StepForm key={`${part}/${index}/${target[part].length}`} step={step} number={index + 1}
              change={(next) => put(part, target[part].map((each, at) => (at === index ? next : each)))}
              {...(part === 'steps' && target.steps.length === 1 ? {} : { remove: () => put(part, target[part].filter((_, at) => at !== index)) })}
              {...(index === 0 ? {} : { up: () => put(part, target[part].map((each, at) => (at === index - 1 ? step : at === index ? target[part][index - 1]! : each))) })} />
          ))}
          <Button variant="subtle" px={0} onClick={() => put(part, [...target[part], { name: `request ${target[part].length + 1}`, url: target.steps[0]?.url ?? 'https://', method: 'GET', headers: {}, follow: true, take: [], pass: [] }])}>+ request</Button>
        </section>
      ))}
      <p className="quiet small">A value that is taken stands in later texts as <code>{'{=name}'}</code>; also <code>{'{=now()}'}</code>, <code>{'{=random(100)}'}</code>, <code>{'{=uuid()}'}</code>, <code>{'{=base64(name)}'}</code>, <code>{'{=sha256(name)}'}</code>, <code>{"{=hmac('key', name)}"}</code>.</p>
    </div>
  )
}

function StepForm({ step, number, change, remove, up }: { step: Step; number: number; change: (step: Step) => void; remove?: () => void; up?: () => void }) {
  const set = (changes: Partial<Step>) => change({ ...step, ...changes })
  return (
    <div className="card pad" style={{ margin: '6px 0', display: 'grid', gap: 6 }}>
      <div className="row" style={{ alignItems: 'flex-end' }}>
        <TextInput size="xs" w={120} label={`Name of request ${number}`} defaultValue={step.name} onBlur={(event) => { if (event.currentTarget.value !== '') set({ name: event.currentTarget.value }) }} />
        <Select size="xs" w={100} label="Method" data={METHODS} value={step.method} allowDeselect={false} onChange={(method) => set({ method: method ?? 'GET' })} />
        <TextInput size="xs" style={{ flex: '1 1 220px' }} label="Address" styles={mono} defaultValue={step.url} onBlur={(event) => { if (event.currentTarget.value !== '') set({ url: event.currentTarget.value.trim() }) }} />
      </div>
      <Textarea size="xs" label="Headers, one a line" styles={mono} autosize minRows={1} maxRows={6} defaultValue={Object.entries(step.headers).map(([name, value]) => `${name}: ${value}`).join('\n')} onBlur={(event) => set({ headers: headersIn(event.currentTarget.value) })} />
      {step.method !== 'GET' && step.method !== 'HEAD' && <Textarea size="xs" label="Body" styles={mono} autosize minRows={1} maxRows={8} defaultValue={step.body ?? ''} onBlur={(event) => change(withBody(step, event.currentTarget.value))} />}
      {step.take.map((taking, index) => <TakingRow key={`${index}/${step.take.length}`} taking={taking} change={(next) => set({ take: next ? step.take.map((each, at) => (at === index ? next : each)) : step.take.filter((_, at) => at !== index) })} />)}
      <StepConditions pass={step.pass} change={(pass) => set({ pass })} />
      <div className="row" style={{ gap: 12 }}>
        <Button variant="subtle" px={0} onClick={() => set({ take: [...step.take, { as: `value${step.take.length + 1}`, from: 'json', at: '$.id' }] })}>+ take a value</Button>
        <Checkbox size="xs" label="Follow redirects" checked={step.follow} onChange={(event) => set({ follow: event.currentTarget.checked })} />
        {up && <Button variant="subtle" px={0} onClick={up} aria-label={`Move request ${number} up`}>Move up</Button>}
        {remove && <Button variant="subtle" px={0} onClick={remove} aria-label={`Take request ${number} away`}>Take away</Button>}
      </div>
    </div>
  )
}

function TakingRow({ taking, change }: { taking: Taking; change: (taking: Taking | undefined) => void }) {
  return (
    <div className="row" style={{ alignItems: 'flex-end' }}>
      <TextInput size="xs" w={110} label="Take" styles={mono} defaultValue={taking.as} error={/^[A-Za-z_]\w{0,63}$/.test(taking.as) ? undefined : 'letters, digits and _'} onBlur={(event) => { if (event.currentTarget.value !== '') change({ ...taking, as: event.currentTarget.value }) }} />
      <Select size="xs" w={100} label="from" data={[...TAKEN_FROM]} value={taking.from} allowDeselect={false} onChange={(from) => change({ ...taking, from: from as Taking['from'] })} />
      <TextInput size="xs" style={{ flex: '1 1 160px' }} label="at" styles={mono} defaultValue={taking.at} onBlur={(event) => { if (event.currentTarget.value !== '') change({ ...taking, at: event.currentTarget.value }) }} />
      <Button variant="subtle" aria-label={`Do not take ${taking.as}`} onClick={() => change(undefined)}>×</Button>
    </div>
  )
}

function headersIn(text: string): Record<string, string> {
  return Object.fromEntries(text.split('\n').flatMap((line) => {
    const [, name, value] = /^([!#$%&'*+.^_`|~0-9A-Za-z-]+)\s*:\s*(.+)$/.exec(line.trim()) ?? []
    return name === undefined ? [] : [[name, value!]]
  }))
}

function withBody(step: Step, body: string): Step {
  const rest = withoutFields(step as unknown as Record<string, unknown>, ['body']) as unknown as Step
  return body === '' ? rest : { ...rest, body }
}
