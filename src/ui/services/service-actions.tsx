'use client'

import { Button, Modal, TextInput } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useRouter } from 'next/navigation'
import { useEffect, useState, useTransition } from 'react'
import { speakMilliseconds } from '@/core/definitions/duration'
import type { LocationChoice as Choice } from '@/core/places/places'
import { speakChoice } from '@/core/places/places'
import { copyToStage, readServiceRun, removeService, runService, type ServiceRun } from '../../../app/actions/services'
import type { EditorChoices } from '../editor/choices'
import { LocationChoice } from '../editor/location-choice'
import { VariableRows } from '../editor/more-parts'
import { StateMark } from '../marks/state-mark'
import { showUndo } from '../shell/undo-notice'

interface Props {
  service: string
  name: string
  stage: string
  variables: Record<string, string>
  checks: number
  locations: EditorChoices['locations']
}

/** What can be done with a whole service. */
export function ServiceActions(props: Props) {
  const router = useRouter()
  const [open, setOpen] = useState<'run' | 'copy'>()
  const [busy, start] = useTransition()
  const remove = () => start(async () => {
    const result = await removeService(props.service)
    if ('error' in result) return notifications.show({ message: result.error, color: 'red' }) as never
    router.push('/services')
    return showUndo(`${props.name} is removed.`, result.value)
  })
  return (
    <div className="row">
      <Button variant="default" onClick={() => setOpen('run')} disabled={props.checks === 0}>Run them all</Button>
      <Button variant="default" onClick={() => setOpen('copy')}>Copy to another stage</Button>
      {props.checks === 0 && <Button variant="default" onClick={remove} loading={busy}>Remove it</Button>}
      <Modal opened={open === 'run'} onClose={() => setOpen(undefined)} title={`Run ${props.name}, ${props.stage}`} size={760}>{open === 'run' && <RunForm {...props} />}</Modal>
      <Modal opened={open === 'copy'} onClose={() => setOpen(undefined)} title={`Copy ${props.name} to another stage`} size={640}>{open === 'copy' && <CopyForm {...props} />}</Modal>
    </div>
  )
}

function CopyForm({ service, name, checks, variables, locations }: Props) {
  const router = useRouter()
  const [stage, setStage] = useState('')
  const [values, setValues] = useState<Record<string, string> | undefined>(variables)
  const [from, setFrom] = useState<Choice>()
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const copy = () => start(async () => {
    const result = await copyToStage(service, stage, values ?? {}, from)
    if ('error' in result) return setError(result.error)
    router.push(`/services/${result.value.key}`)
    return showUndo(`${name} is copied to ${stage}.`, result.value.change)
  })
  return (
    <div style={{ display: 'grid', gap: 10 }}>
      <TextInput size="xs" label="The stage" placeholder="staging" value={stage} data-autofocus onChange={(event) => setStage(event.currentTarget.value)} />
      <div><div className="small strong">Its variables there</div><VariableRows variables={variables} change={setValues} /></div>
      <div>It runs from <LocationChoice text={from === undefined ? 'the same locations' : speakChoice(from, locations)} locations={locations} chosen={from ?? 'all'} choose={setFrom} />.</div>
      <div className="quiet small">{checks} {checks === 1 ? 'check is' : 'checks are'} copied with it, and so are its secrets. Its objective and its client are not.</div>
      {error && <div className="notice trouble" role="alert">{error}</div>}
      <div><Button onClick={copy} loading={busy} disabled={stage.trim() === ''}>Copy it</Button></div>
    </div>
  )
}

const RANK = { fail: 0, slow: 1, warn: 2, pass: 3 }
const MARKS = { pass: 'up', warn: 'warning', slow: 'slow', fail: 'down' } as const

function RunForm({ service, variables, checks }: Props) {
  const [overrides, setOverrides] = useState<Record<string, string>>()
  const [asks, setAsks] = useState(false)
  const [run, setRun] = useState<ServiceRun>()
  const [results, setResults] = useState<Extract<Awaited<ReturnType<typeof readServiceRun>>, { value: unknown }>['value']>([])
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const begin = () => start(async () => {
    setResults([])
    const begun = await runService(service, overrides)
    if ('error' in begun) setError(begun.error)
    else setRun(begun.value)
  })
  useEffect(() => {
    if (!run) return
    let over = false
    const look = async () => {
      for (const until = Date.now() + 40_000; !over && Date.now() < until;) {
        const found = await readServiceRun(run)
        if ('value' in found) {
          setResults(found.value)
          if (found.value.every((each) => each.verdicts.length >= run.checks.find((check) => check.key === each.key)!.locations)) return
        }
        await new Promise((resolve) => setTimeout(resolve, 400))
      }
    }
    void look()
    return () => { over = true }
  }, [run])
  const of = (key: string) => results.find((each) => each.key === key)?.verdicts ?? []
  const ordered = run ? [...run.checks].sort((a, b) => worst(of(a.key)) - worst(of(b.key))) : []
  return (
    <div style={{ display: 'grid', gap: 10 }}>
      <div className="row">
        <Button onClick={begin} loading={busy}>{run ? 'Run again' : `Run ${checks} ${checks === 1 ? 'check' : 'checks'} now`}</Button>
        <Button variant="subtle" onClick={() => { setAsks(!asks); setOverrides(asks ? undefined : variables) }}>{asks ? 'With its own values' : 'With other values'}</Button>
        {overrides && <span className="quiet small">What is run with other values is not recorded.</span>}
      </div>
      {asks && <VariableRows variables={variables} change={(values) => setOverrides(values ?? {})} />}
      {error && <div className="notice trouble" role="alert">{error}</div>}
      {run && (
        <table className="table" aria-label="Results"><tbody>
          {ordered.map((check) => {
            const verdicts = of(check.key)
            const bad = verdicts.filter((each) => each.verdict !== 'pass').sort((a, b) => RANK[a.verdict] - RANK[b.verdict])
            const state = verdicts.length === 0 ? 'nodata' : MARKS[bad[0]?.verdict ?? 'pass']
            return (
              <tr key={check.key}><td style={{ width: 28 }}><StateMark state={state} /></td><td className="strong">{check.name}</td>
                <td>{check.problem ?? (bad.length > 0 ? <><b>{bad.length} of {verdicts.length}</b> <span className="quiet">{bad[0]!.sentence}</span></> : verdicts.length > 0 ? <span className="quiet">passing</span> : <span className="quiet">running</span>)}</td>
                <td className="number quiet">{verdicts.length} of {check.locations}</td>
                <td className="number">{verdicts.length > 0 ? speakMilliseconds(Math.max(...verdicts.map((each) => each.total))) : ''}</td></tr>
            )
          })}
        </tbody></table>
      )}
    </div>
  )
}

const worst = (verdicts: { verdict: keyof typeof RANK }[]) => Math.min(4, ...verdicts.map((each) => RANK[each.verdict]))
