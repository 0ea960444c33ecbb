'use client'

import { Button, Collapse, Menu, Textarea } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useRouter } from 'next/navigation'
import { useEffect, useMemo, useRef, useState, useTransition } from 'react'
import { CHECK_DEFAULTS, IMPORTANCES, type Check, type CheckDocument } from '@/core/definitions/check'
import type { KindDefinition } from '@/core/definitions/kind'
import { readCheck, writeCheck } from '@/core/definitions/read-check'
import { readFile, writeFile } from '@/core/definitions/read-file'
import { problemSentence } from '@/core/problems'
import { requestsAnHour } from '@/core/schedule/next-run'
import { checkSentence } from '@/core/sentence/check-sentence'
import { readPart } from '@/core/sentence/read-part'
import type { Sentence } from '@/core/sentence/sentence'
import { startState } from '@/core/states/start-state'
import { kinds } from '@/kinds/definitions'
import { beginTry, readTry, saveCheck, startWatching } from '../../../app/actions/checks'
import { Part } from '../sentence/part'
import classes from '../sentence/sentence.module.css'
import { NEW_KEY, NO_ADDRESS } from './blank'
import { AnswerPanel, type TryState } from './answer-panel'
import { LocationChoice } from './location-choice'
import { NEW_CONDITIONS } from './new-conditions'
import { RequestForm } from './request-form'

export interface CheckEditorProps {
  check: Check
  /** Set when an existing check is edited: its key and the version the editing began with. */
  editing?: { key: string; version: number }
  locations: { key: string; place: string; network: string }[]
  services: { key: string; name: string }[]
  openPart?: string
}

/** The editor of a check: its sentence, edited in place, beside what the target answers right now. */
export function CheckEditor({ check: first, editing, locations, services, openPart }: CheckEditorProps) {
  const router = useRouter()
  const [check, setCheck] = useState(first)
  const [attempt, setAttempt] = useState<TryState>()
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const [more, setMore] = useState(openPart === 'http.more')
  const [file, setFile] = useState<string>()
  const [fileError, setFileError] = useState<string>()
  const round = useRef(0)
  const kind = kinds[check.kind] as unknown as KindDefinition
  const hasTarget = kind.address(check.target) !== NO_ADDRESS
  const target = JSON.stringify([kind.write(check.target), check.pass, check.turned, check.from, check.wait, check.slow?.above])

  const tryNow = async (tried: Check) => {
    const own = ++round.current
    const document = writeCheck({ ...tried, name: tried.name || 'New check', key: tried.key }, kinds)
    const begun = await beginTry(document)
    if (own !== round.current) return
    if ('error' in begun) {
      setAttempt({ at: Date.now(), locations: [], answers: new Map(), running: false, error: begun.error })
      return
    }
    const state: TryState = { at: Date.now(), locations: begun.value.locations, answers: new Map(), running: true }
    setAttempt(state)
    const until = Date.now() + tried.wait + 6000
    while (own === round.current) {
      const results = await readTry(begun.value.id)
      if (own !== round.current) return
      if ('value' in results) for (const { location, observation } of results.value) if (observation) state.answers.set(location, { ...observation, location })
      const over = state.answers.size === state.locations.length || Date.now() > until
      setAttempt({ ...state, answers: new Map(state.answers), running: !over, ...(over && state.answers.size === 0 ? { error: 'No probe answered. Is one running for these locations?' } : {}) })
      if (over) return
      await new Promise((resolve) => setTimeout(resolve, 150))
    }
  }
  useEffect(() => {
    if (!hasTarget) return
    const timer = setTimeout(() => void tryNow(check), 350)
    return () => clearTimeout(timer)
    // the try follows the target and the conditions, not the name or the cadence
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [target, hasTarget])

  const commit = (part: string) => (text: string): string | undefined => {
    if (part === 'http.more') {
      setMore(true)
      return undefined
    }
    const result = readPart({ ...check, name: check.name || 'New check' }, kinds, part, text)
    if ('expected' in result) return result.expected
    const changed = part === 'name' ? result.check : { ...result.check, name: check.name }
    setCheck(part === 'http.url' && !hasTarget ? withFirstConditions(changed, kind) : changed)
    return undefined
  }
  const addCondition = (written: Record<string, unknown>) => {
    const read = readCheck({ ...writeCheck({ ...check, name: check.name || 'New check' }, kinds), pass: [...(writeCheck(check, kinds).pass as unknown[]), written] }, kinds)
    if ('check' in read) setCheck({ ...check, pass: read.check.pass })
  }
  const save = (another: boolean) => start(async () => {
    setError(undefined)
    const named = { ...check, name: check.name || nameFromAddress(kind.address(check.target)) }
    const document = writeCheck(named, kinds)
    const result = editing ? await saveCheck(editing.key, document, editing.version) : await startWatching(document, check.key !== NEW_KEY)
    if ('error' in result) return setError(result.error)
    if (!another) return router.push(`/checks/${typeof result.value === 'string' ? result.value : result.value.key}`)
    notifications.show({ message: `${named.name} is being watched.` })
    round.current += 1
    setAttempt(undefined)
    setCheck({ ...first, service: check.service, every: check.every, from: check.from, tags: check.tags })
    return undefined
  })
  useHotkeys([['mod+Enter', () => save(false)]], [])

  const names = useMemo(() => new Map(locations.map((location) => [location.key, location.place])), [locations])
  const sentence = checkSentence(check, kinds, { count: locations.length, name: (key) => names.get(key) ?? key })
  const draw = (pieces: Sentence) => pieces.map((piece, index) => {
    if (!piece.part) return <span key={index} className={piece.look ? classes[piece.look] : undefined}>{piece.text}</span>
    if (piece.part === 'from') return <LocationChoice key={index} text={piece.text} locations={locations} chosen={check.from} choose={(from) => setCheck({ ...check, from })} />
    const shown = piece.part === 'http.url' && !hasTarget ? { ...piece, text: '' } : piece
    return <Part key={piece.part} piece={shown as typeof piece & { part: string }} commit={commit(piece.part)} opened={openPart === piece.part || (piece.part === 'http.url' && !hasTarget && !editing)} />
  })
  const places = check.from === 'all' ? locations.length : check.from.length
  const begins = attempt && attempt.answers.size > 0 ? startState(check, [...attempt.answers.values()], (id) => attempt.locations.find((each) => each.id === id)?.place ?? '') : undefined

  const applyFile = () => {
    const read = readFile(file ?? '')
    if ('problems' in read) return setFileError(read.problems.map(problemSentence).join(' '))
    const checked = readCheck(read.value, kinds)
    if ('problems' in checked) return setFileError(read.withLines(checked.problems).map(problemSentence).join(' '))
    setCheck(checked.check)
    setFile(undefined)
    setFileError(undefined)
    return undefined
  }
  return (
    <div className="halves">
      <div>
        <div className="row" style={{ alignItems: 'baseline', minHeight: 34 }}>
          <h1>{editing ? 'Edit check' : 'New check'} ·</h1>
          <span style={{ fontSize: 21, fontWeight: 700 }}><Part piece={{ text: check.name || 'name it', part: 'name', label: 'name' }} commit={(text) => commit('name')(text)} opened={openPart === 'name'} /></span>
        </div>
        <div className="quiet" style={{ margin: '4px 0 12px' }}>
          in <Part piece={{ text: services.find((service) => service.key === check.service)?.name ?? 'no service', part: 'service', label: 'service', offers: ['no service', ...services.map((service) => service.name)] }}
            commit={(text) => {
              const service = services.find((each) => each.name === text || each.key === text)
              if (!service && text !== 'no service' && text !== '') return `one of ${services.map((each) => each.name).join('; ')}`
              setCheck({ ...check, service: service?.key })
              return undefined
            }} />, <Part piece={{ text: check.importance, part: 'importance', label: 'importance', offers: [...IMPORTANCES] }} commit={commit('importance')} /> importance,
          tagged <Part piece={{ text: check.tags.join(', ') || 'nothing', part: 'tags', label: 'tags' }} commit={(text) => commit('tags')(text === 'nothing' ? '' : text)} />
        </div>
        {file !== undefined ? (
          <div className="card pad">
            <Textarea aria-label="The definition as a file" value={file} onChange={(event) => { setFile(event.currentTarget.value); setFileError(undefined) }} autosize minRows={16} error={fileError} styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)', fontSize: 13 } }} />
            <div className="row" style={{ marginTop: 10 }}><Button onClick={applyFile}>Use it</Button><Button variant="default" onClick={() => setFile(undefined)}>Back to the sentence</Button></div>
          </div>
        ) : (
          <div className="card pad">
            <div className={classes.line}>{draw(sentence.what)} <button type="button" className="touch" style={{ all: 'unset', cursor: 'pointer', color: 'var(--action)', fontWeight: 600, fontSize: 13 }} aria-expanded={more} onClick={() => setMore(!more)}>{more ? '− less' : '+ method, headers, body, sign-in, TLS'}</button></div>
            <Collapse expanded={more}><RequestForm check={check} change={(next) => setCheck(next)} /></Collapse>
            <hr style={{ border: 0, borderTop: '1px solid var(--line)', margin: '10px 0' }} />
            <div className={classes.line}>{check.turned ? 'It passes when the following does not hold' : 'It passes when'}</div>
            {sentence.conditions.map((condition, index) => (
              <div key={index} className={classes.line}>
                <span className={classes.number}>{index + 1}</span>{draw(condition)}
                <Menu position="bottom-start"><Menu.Target><button type="button" aria-label={`More about condition ${index + 1}`} style={{ all: 'unset', cursor: 'pointer', padding: '0 8px', color: 'var(--muted)' }}>⋯</button></Menu.Target>
                  <Menu.Dropdown>
                    <Menu.Item onClick={() => setCheck({ ...check, pass: check.pass.map((each, at) => (at === index ? { ...each, not: !each.not } : each)) })}>Turn it round</Menu.Item>
                    <Menu.Item onClick={() => setCheck({ ...check, pass: check.pass.map((each, at) => (at === index ? { ...each, softly: !each.softly } : each)) })}>{check.pass[index]?.softly ? 'Let it fail the check' : 'Let it only warn'}</Menu.Item>
                    <Menu.Item onClick={() => setCheck({ ...check, pass: check.pass.filter((_, at) => at !== index) })}>Take it away</Menu.Item>
                  </Menu.Dropdown></Menu>
              </div>
            ))}
            {check.pass.length === 0 && <div className="quiet">there is any answer at all.</div>}
            <Menu position="bottom-start"><Menu.Target><Button variant="subtle" px={0}>+ another condition</Button></Menu.Target>
              <Menu.Dropdown>{NEW_CONDITIONS.map(({ name, written }) => <Menu.Item key={name} onClick={() => addCondition(written)}>{name}</Menu.Item>)}
                <Menu.Divider /><Menu.Item onClick={() => setCheck({ ...check, turned: !check.turned })}>{check.turned ? 'Turn the whole check back' : 'Turn the whole check round'}</Menu.Item></Menu.Dropdown></Menu>
            <span className="quiet small"> or click a value in the answer</span>
            <hr style={{ border: 0, borderTop: '1px solid var(--line)', margin: '10px 0' }} />
            <div className={classes.line}>{draw(sentence.down)}</div>
            <div className={classes.line}>
              {check.slow ? <>{draw(sentence.slow)} <button type="button" aria-label="Take the rule for slow away" style={{ all: 'unset', cursor: 'pointer', padding: '0 8px', color: 'var(--muted)' }} onClick={() => setCheck({ ...check, slow: undefined })}>×</button></>
                : <Button variant="subtle" px={0} onClick={() => setCheck({ ...check, slow: { phase: 'total', above: 900, for: CHECK_DEFAULTS.slowFor, locations: CHECK_DEFAULTS.slowLocations } })}>+ call it slow above a limit</Button>}
            </div>
            <div className={classes.line}>If it happens, <b>everyone</b> hears, by every channel they have.</div>
          </div>
        )}
        <div className={begins?.state === 'suspect' || begins?.state === 'down' ? 'notice trouble' : 'notice'} style={{ marginTop: 12 }} role="status">
          {begins ? <><b>It would start as {begins.name}</b>{begins.why && `: ${begins.why}`} </> : <b>Nothing was tried yet. </b>}
          {hasTarget && <span className="quiet">{requestsAnHour(check.every, places, kind.requests(check.target))} requests an hour reach the target.</span>}
        </div>
        {error && <div className="notice trouble" style={{ marginTop: 8 }} role="alert">{error}</div>}
        <div className="row" style={{ marginTop: 12 }}>
          <Button onClick={() => save(false)} loading={busy} disabled={!hasTarget}>{editing ? 'Save' : 'Start watching'}</Button>
          {!editing && <Button variant="default" onClick={() => save(true)} disabled={!hasTarget || busy}>Start and add another</Button>}
          {file === undefined && <Button variant="default" onClick={() => setFile(writeFile(writeCheck({ ...check, name: check.name || 'New check' }, kinds)))}>As file</Button>}
          <span className="quiet small" style={{ marginLeft: 'auto' }}><kbd>Ctrl Enter</kbd></span>
        </div>
        <p className="quiet small">{kind.proves} {`It does not prove: ${kind.doesNotProve.charAt(0).toLowerCase()}${kind.doesNotProve.slice(1)}`}</p>
      </div>
      <div>
        <AnswerPanel attempt={attempt} again={() => void tryNow(check)} addCondition={addCondition} conditions={check.pass.flatMap(({ test }, index) => (test.on === 'json' ? [{ json: test.path, number: index + 1 }] : []))} />
      </div>
    </div>
  )
}

function withFirstConditions(check: Check, kind: KindDefinition): Check {
  const read = readCheck({ ...writeCheck({ ...check, name: check.name || 'New check' }, kinds), pass: kind.firstConditions(check.target) } as CheckDocument, kinds)
  return 'check' in read ? { ...check, pass: read.check.pass } : check
}

function nameFromAddress(address: string): string {
  const url = new URL(address)
  return `${url.host}${url.pathname === '/' ? '' : url.pathname}`.slice(0, 200)
}
