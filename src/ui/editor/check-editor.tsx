'use client'

import { Button, Collapse } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useRouter } from 'next/navigation'
import { useEffect, useState, useTransition } from 'react'
import { IMPORTANCES, type CheckDocument } from '@/core/definitions/check'
import { locationsOf, outside } from '@/core/places/places'
import { requestsAnHour } from '@/core/schedule/next-run'
import type { Sentence, SentencePiece } from '@/core/sentence/sentence'
import { startState } from '@/core/states/start-state'
import { saveCheck, startWatching } from '../../../app/actions/checks'
import { Part } from '../sentence/part'
import { speakOrigin } from '../sentence/origin'
import classes from '../sentence/sentence.module.css'
import { asKind, NEW_KEY } from './blank'
import type { EditorChoices } from './choices'
import { AnswerPanel } from './answer-panel'
import { Conditions } from './conditions'
import { FileForm } from './file-form'
import { LocationChoice } from './location-choice'
import { MembersChoice } from './members-choice'
import { MoreParts } from './more-parts'
import { ReplayLine } from './replay-line'
import { KindChoice } from './kind-choice'
import { KindForm, moreOf } from './kind-form'
import { useDraft } from './use-draft'
import { useTry } from './use-try'

export interface CheckEditorProps {
  document: CheckDocument
  /** Set when an existing check is edited: its key and the version the editing began with. */
  editing?: { key: string; version: number }
  choices: EditorChoices
  openPart?: string
}

/** The editor of a check: its sentence, edited in place, beside what the target answers right now. */
export function CheckEditor({ document: first, editing, choices, openPart }: CheckEditorProps) {
  const router = useRouter()
  const draft = useDraft(first, choices)
  const { document, settled, sentence, kind, hasTarget, set } = draft
  const { check } = settled
  const { attempt, tryNow, forget } = useTry()
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const [more, setMore] = useState(openPart?.endsWith('.more') ?? first.sequence !== undefined)
  const [showsFile, setShowsFile] = useState(false)
  const named = { ...document, name: document.name || nameFromAddress(kind.address(kind.read(settled.resolved[kind.kind] as never))) }

  const moreNames = moreOf(kind)
  const again = () => void tryNow(named, check.wait, editing?.key)
  const tried = JSON.stringify([settled.resolved[kind.kind], settled.resolved.pass, document.turned, check.from, check.wait, check.slow?.above])
  useEffect(() => {
    if (!hasTarget || draft.problem) return
    const timer = setTimeout(again, 350)
    return () => clearTimeout(timer)
    // the try follows the target and the conditions, not the name or the cadence
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [tried, hasTarget, draft.problem])

  const commit = (part: string) => (text: string): string | undefined => {
    if (part !== `${kind.kind}.more`) return draft.commit(part, text)
    setMore(true)
    return undefined
  }
  const save = (another: boolean) => start(async () => {
    setError(undefined)
    const result = editing ? await saveCheck(editing.key, named, editing.version) : await startWatching(named, document.check !== NEW_KEY)
    if ('error' in result) return setError(result.error)
    if (!another) return router.push(`/checks/${typeof result.value === 'string' ? result.value : result.value.key}`)
    notifications.show({ message: `${named.name} is being watched.` })
    forget()
    set({ ...Object.fromEntries(Object.keys(document).map((field) => [field, undefined])), ...first, service: document.service, every: document.every, from: document.from, tags: document.tags })
    return undefined
  })
  useHotkeys([['mod+Enter', () => save(false)]], [])

  const back = (part: string) => {
    const text = draft.inheritedText(part)
    return text === undefined ? {} : { giveBack: { text: `Back to the service’s: ${text}`, act: () => draft.giveBack(part) } }
  }
  const draw = (pieces: Sentence) => pieces.map((piece, index) => {
    if (!piece.part) return <span key={index} className={piece.look ? classes[piece.look] : undefined}>{piece.text}</span>
    const origin = speakOrigin(piece)
    if (piece.part === 'from') return <LocationChoice key={index} text={piece.text} locations={outside(choices.locations)} chosen={check.from} choose={(from) => set({ from })} {...(origin ? { inherited: origin } : {})} {...back('from')} />
    if (kind.members && piece.part === kind.addressPart) {
      const choose = (of: string[]) => set({ [kind.kind]: { ...(document[kind.kind] as object), of: of.length > 0 ? of : kind.blank.of } })
      return <MembersChoice key={index} checks={choices.checks.filter((each) => each.key !== editing?.key)} chosen={hasTarget ? kind.members(document[kind.kind] as Record<string, unknown>) : []} choose={choose} opened={!hasTarget && !editing} />
    }
    if (piece.part === 'needs') return <span key={index}>{piece.text}</span>
    const shown = piece.part === kind.addressPart && !hasTarget ? { ...piece, text: '' } : piece
    return <Part key={`${kind.kind}/${piece.part}`} piece={shown as SentencePiece & { part: string }} commit={commit(piece.part)} opened={openPart === piece.part || (piece.part === kind.addressPart && !hasTarget && !editing)} {...back(piece.part)} />
  })
  const places = locationsOf(check.from, choices.locations).length
  const begins = attempt && attempt.answers.size > 0 ? startState(check, [...attempt.answers.values()], (id) => attempt.locations.find((each) => each.id === id)?.place ?? '') : undefined
  const isBad = begins?.state === 'suspect' || begins?.state === 'down'
  return (
    <div className="halves">
      <div>
        <Heading draft={draft} choices={choices} title={editing ? 'Edit check' : 'New check'} {...(openPart ? { openPart } : {})} importanceBack={back('importance')} />
        {showsFile ? <FileForm draft={{ ...document, name: named.name }} apply={(written) => { set({ ...Object.fromEntries(Object.keys(document).map((field) => [field, undefined])), ...written }); setShowsFile(false) }} leave={() => setShowsFile(false)} choices={choices} /> : (
          <div className="card pad">
            {!editing && <KindChoice kind={kind} choose={(next) => draft.replace(asKind(document, kind, check.target, next))} />}
            <div className={classes.line}>{draw(sentence.what)} {moreNames !== '' && <button type="button" className={`touch ${classes.quietButton}`} aria-expanded={more} onClick={() => setMore(!more)}>{more ? '− less' : `+ ${moreNames}`}</button>}</div>
            <Collapse expanded={more}><KindForm kind={kind} target={check.target} change={(target) => set({ [kind.kind]: kind.write(target) })} /></Collapse>
            <MoreParts draft={draft} checks={choices.checks} />
            <hr className={classes.rule} />
            <Conditions draft={draft} draw={draw} {...(kind.subjects.includes('json') ? { hint: 'or click a value in the answer' } : {})} />
            <hr className={classes.rule} />
            <div className={classes.line}>{draw(sentence.down)}</div>
            {!check.isInside && <div className={classes.line}>
              {check.slow ? <>{draw(sentence.slow)} <button type="button" className={classes.more} aria-label="Take the rule for slow away" onClick={() => set({ slow: settled.origins.slow === 'check' && draft.inheritedText('slow.above') === undefined ? undefined : 'none' })}>×</button></>
                : <Button variant="subtle" px={0} onClick={() => set({ slow: { above: '900ms' } })}>+ call it slow above a limit</Button>}
            </div>}
            <ReplayLine checkKey={editing?.key} document={named} rules={JSON.stringify([check.down, check.up, check.slow, check.turns, check.from])} />
            <div className={classes.line}>If it happens, <b>everyone</b> hears, by every channel they have.</div>
          </div>
        )}
        {draft.problem && hasTarget && <div className="notice trouble" style={{ marginTop: 12 }} role="alert">{draft.problem}</div>}
        <div className={isBad ? 'notice trouble' : 'notice'} style={{ marginTop: 12 }} role="status">
          {begins ? <><b>It would start as {begins.name}</b>{begins.why && `: ${begins.why}`} </> : <b>Nothing was tried yet. </b>}
          {hasTarget && !check.isInside && <span className="quiet">{requestsAnHour(check.every, places, kind.requests(check.target), check.turns)} requests an hour reach the target.</span>}
        </div>
        {error && <div className="notice trouble" style={{ marginTop: 8 }} role="alert">{error}</div>}
        <div className="row" style={{ marginTop: 12 }}>
          <Button onClick={() => save(false)} loading={busy} disabled={!hasTarget}>{editing ? 'Save' : 'Start watching'}</Button>
          {!editing && <Button variant="default" onClick={() => save(true)} disabled={!hasTarget || busy}>Start and add another</Button>}
          {!showsFile && <Button variant="default" onClick={() => setShowsFile(true)}>As file</Button>}
          <span className="quiet small" style={{ marginLeft: 'auto' }}><kbd>Ctrl Enter</kbd></span>
        </div>
        <p className="quiet small">{kind.proves} {`It does not prove: ${kind.doesNotProve.charAt(0).toLowerCase()}${kind.doesNotProve.slice(1)}`}</p>
      </div>
      <div>
        <AnswerPanel kind={kind} attempt={attempt} again={again} addCondition={(written) => set({ pass: [...((document.pass ?? []) as unknown[]), written] })} conditions={check.pass.flatMap(({ test }, index) => (test.on === 'json' ? [{ json: test.path, number: index + 1 }] : []))} />
      </div>
    </div>
  )
}

/** The name, and where the check belongs. */
function Heading({ draft, choices, title, openPart, importanceBack }: { draft: ReturnType<typeof useDraft>; choices: EditorChoices; title: string; openPart?: string; importanceBack: { giveBack?: { text: string; act: () => void } } }) {
  const { document, settled, set, commit } = draft
  const { services } = choices
  const origin = settled.origins.importance
  return (
    <>
      <div className="row" style={{ alignItems: 'baseline', minHeight: 34 }}>
        <h1>{title} ·</h1>
        <span style={{ fontSize: 21, fontWeight: 700 }}><Part piece={{ text: document.name || 'name it', part: 'name', label: 'name' }} commit={(text) => commit('name', text)} opened={openPart === 'name'} /></span>
      </div>
      <div className="quiet" style={{ margin: '4px 0 12px' }}>
        in <Part piece={{ text: services.find((service) => service.key === document.service)?.name ?? 'no service', part: 'service', label: 'service', offers: ['no service', ...services.map((service) => service.name)] }}
          commit={(text) => {
            const service = services.find((each) => each.name === text || each.key === text)
            if (!service && text !== 'no service' && text !== '') return `one of ${services.map((each) => each.name).join('; ')}`
            set({ service: service?.key })
            return undefined
          }} />, <Part piece={{ text: settled.check.importance, part: 'importance', label: 'importance', offers: [...IMPORTANCES], ...(origin === 'check' || !origin ? {} : { origin }) }} commit={(text) => commit('importance', text)} {...importanceBack} /> importance,
        tagged <Part piece={{ text: settled.check.tags.join(', ') || 'nothing', part: 'tags', label: 'tags' }} commit={(text) => commit('tags', text === 'nothing' ? '' : text)} />
      </div>
    </>
  )
}

function nameFromAddress(address: string): string {
  if (!URL.canParse(address)) return address.slice(0, 200)
  const url = new URL(address)
  return `${url.host}${url.pathname === '/' ? '' : url.pathname}`.slice(0, 200)
}
