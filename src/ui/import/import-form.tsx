'use client'

import { Button, Checkbox, FileButton, SegmentedControl, Select, Textarea } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { useRouter } from 'next/navigation'
import { useEffect, useMemo, useState, useTransition } from 'react'
import { speakValue } from '@/core/definitions/differences'
import { freeKeys } from '@/core/many/read-addresses'
import { SEQUENCE_MOST, sequenceOf } from '@/core/files/har-sequence'
import type { FileRead } from '@/core/files/offer'
import { readAny } from '@/core/files/read-any'
import { problemSentence, type Problem } from '@/core/problems'
import { kinds } from '@/kinds/definitions'
import { applyImport, previewImport, type Given, type ImportPreview } from '../../../app/actions/import'
import { showUndo } from '../shell/undo-notice'

/** A file, what it offers, and exactly what taking it would do. */
export function ImportForm({ services, taken }: { services: { key: string; name: string }[]; taken: string[] }) {
  const router = useRouter()
  const [file, setFile] = useState<{ name: string; read: FileRead }>()
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set())
  const [service, setService] = useState<string | null>(null)
  const [asOne, setAsOne] = useState(false)
  const [preview, setPreview] = useState<ImportPreview | { error: string }>()
  const [busy, start] = useTransition()
  const given = useMemo(() => (file ? givenOf(file.read, chosen, service, taken, asOne) : []), [file, chosen, service, taken, asOne])
  const [settled] = useDebouncedValue(given, 200)
  useEffect(() => {
    let over = false
    if (settled.length === 0) {
      setPreview(undefined)
      return
    }
    void previewImport(settled).then((result) => { if (!over) setPreview('error' in result ? { error: result.error } : { ...result.value, problems: withLines(result.value.problems, file?.read) }) })
    return () => { over = true }
    // the file belongs to the settled documents
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [settled])
  const take = (name: string, text: string) => {
    const read = readAny(text, name, kinds)
    setFile({ name, read })
    setAsOne(false)
    setChosen(new Set(read.offers.flatMap((offer, index) => (offer.chosen ? [index] : []))))
  }
  const apply = () => start(async () => {
    const result = await applyImport(given, file!.name)
    if ('error' in result) return setPreview({ error: result.error })
    router.push('/checks')
    return showUndo(`${file!.name} is imported.`, result.value)
  })
  if (!file) return <Choose take={take} />
  const { read } = file
  const ready = preview !== undefined && 'fresh' in preview && preview.problems.length === 0 && preview.fresh.length + preview.changed.length > 0
  const isOurs = read.format === 'definitions'
  return (
    <>
      <h1>{file.name} is {read.format === 'definitions' ? 'a file of definitions' : `${read.format === 'CSV' ? 'a' : 'an'} ${read.format === 'HAR' ? 'HTTP archive' : read.format} ${read.format === 'CSV' ? 'file' : ''}`.trim()} with {read.offers.length} {read.offers.length === 1 ? 'entry' : 'entries'}{read.problems.length > 0 && ` and ${read.problems.length} that cannot be read`}.</h1>
      {read.problems.length > 0 && <div className="notice trouble" role="alert" style={{ marginTop: 8 }}>{read.problems.slice(0, 8).map((problem, index) => <div key={index}>{problemSentence(problem)}</div>)}{read.problems.length > 8 && <div>and {read.problems.length - 8} more</div>}</div>}
      <div className="row" style={{ margin: '12px 0' }}>
        {!isOurs && read.offers.length > 0 && <Select size="xs" w={240} aria-label="Service" placeholder="into no service" clearable data={services.map(({ key, name }) => ({ value: key, label: `into ${name}` }))} value={service} onChange={setService} />}
        {read.format === 'HAR' && read.offers.length > 0 && <SegmentedControl size="xs" aria-label="What it becomes" value={asOne ? 'one' : 'each'} onChange={(value) => setAsOne(value === 'one')} data={[{ value: 'each', label: 'a check for each' }, { value: 'one', label: 'one sequence' }]} />}
        <Button onClick={apply} loading={busy} disabled={!ready || (asOne && chosen.size > SEQUENCE_MOST) || (isOurs && read.problems.length > 0)}>Import {chosen.size} of {read.offers.length}</Button>
        <Button variant="default" onClick={() => { setFile(undefined); setPreview(undefined) }}>Another file</Button>
        {isOurs && read.problems.length > 0 && <span className="quiet small">Mend the file first; it is taken as a whole or not at all.</span>}
      </div>
      {asOne && chosen.size > SEQUENCE_MOST && <div className="notice trouble" role="alert">A sequence has at most {SEQUENCE_MOST} requests; choose fewer.</div>}
      {asOne && given[0]?.secrets && Object.keys(given[0].secrets).length > 0 && <div className="notice" style={{ marginBottom: 8 }}><b>{Object.keys(given[0].secrets).join(', ')}</b>: what was typed there is kept as a secret of the check, and stands nowhere in its definition.</div>}
      <Outcome preview={preview} />
      <div className="card scroll" style={{ marginTop: 12, maxHeight: 420, overflow: 'auto' }}><table className="table small"><tbody>
        {read.offers.map((offer, index) => (
          <tr key={index}><td style={{ width: 30 }}><Checkbox size="xs" aria-label={offer.label} checked={chosen.has(index)} onChange={() => setChosen((before) => { const next = new Set(before); if (!next.delete(index)) next.add(index); return next })} /></td>
            <td className="code" style={{ overflowWrap: 'anywhere' }}>{offer.label}</td><td className="quiet">{offer.note}</td><td className="number quiet">{offer.line !== undefined && `line ${offer.line}`}</td></tr>
        ))}
      </tbody></table></div>
    </>
  )
}

/** Gives problems the line of the file at which their definition stands. */
function withLines(problems: Problem[], read: FileRead | undefined): Problem[] {
  const lines = new Map(read?.offers.map((offer) => [`${offer.kind} ${String(offer.document[offer.kind])}`, offer.line]))
  return problems.map((problem) => {
    const line = problem.subject === undefined ? undefined : lines.get(problem.subject)
    return line === undefined ? problem : { ...problem, line }
  })
}

/** Documents to send: what others made gets keys that are free and the chosen service; our own keeps its own. */
function givenOf(read: FileRead, chosen: ReadonlySet<number>, service: string | null, taken: string[], asOne: boolean): Given[] {
  const offers = read.offers.filter((_, index) => chosen.has(index))
  if (read.format === 'definitions' || read.format === 'CSV') {
    return offers.map(({ kind, document }) => ({ kind, document: kind === 'check' && service !== null && document.service === undefined ? { ...document, service } : document }))
  }
  if (asOne && offers.length > 0) {
    const { document, secrets } = sequenceOf(offers)
    return [{ kind: 'check', document: { ...document, check: freeKeys([String(document.check)], (key) => taken.includes(key))[0]!, ...(service === null ? {} : { service }) }, secrets }]
  }
  const keys = freeKeys(offers.map(({ document }) => String(document.check)), (key) => taken.includes(key))
  return offers.map(({ kind, document }, index) => ({ kind, document: { ...document, check: keys[index]!, ...(service === null ? {} : { service }) } }))
}

function Outcome({ preview }: { preview: ImportPreview | { error: string } | undefined }) {
  if (!preview) return null
  if ('error' in preview) return <div className="notice trouble" role="alert">{preview.error}</div>
  return (
    <div style={{ display: 'grid', gap: 8 }} role="status">
      {preview.problems.length > 0 && <div className="notice trouble" role="alert"><b>{preview.problems.length} {preview.problems.length === 1 ? 'thing is' : 'things are'} wrong; nothing is imported before they are mended.</b>{preview.problems.slice(0, 8).map((problem, index) => <div key={index}>{problemSentence(problem)}</div>)}{preview.problems.length > 8 && <div>and {preview.problems.length - 8} more</div>}</div>}
      <div><b>{preview.fresh.length} new, {preview.changed.length} {preview.changed.length === 1 ? 'changes' : 'change'}, {preview.same} as they are already.</b> {preview.fresh.length > 0 && <span className="quiet">New: {preview.fresh.slice(0, 12).map((each) => each.name).join(', ')}{preview.fresh.length > 12 && ` and ${preview.fresh.length - 12} more`}</span>}</div>
      {preview.changed.length > 0 && <table className="table small"><tbody>{preview.changed.slice(0, 50).map((each) => <tr key={`${each.kind}/${each.key}`}><td className="strong">{each.name}</td><td>{each.differences.map((difference) => <div key={difference.path}><span className="code">{difference.path}</span> <span className="quiet">{speakValue(difference.before)} →</span> {speakValue(difference.after)}</div>)}</td></tr>)}</tbody></table>}
    </div>
  )
}

function Choose({ take }: { take: (name: string, text: string) => void }) {
  const [text, setText] = useState('')
  const open = (file: File | null) => { if (file) void file.text().then((content) => take(file.name, content)) }
  return (
    <>
      <h1>Import a file.</h1>
      <p className="quiet">A CSV with a column “address”; a HAR recording from a browser; an OpenAPI document; or Hemeron’s own definitions in YAML or JSON. You see exactly what would happen before anything does.</p>
      <div onDragOver={(event) => event.preventDefault()} onDrop={(event) => { event.preventDefault(); open(event.dataTransfer.files[0] ?? null) }} className="card pad">
        <FileButton onChange={open} accept=".csv,.har,.json,.yaml,.yml,text/*,application/json">{(props) => <Button {...props}>Choose a file</Button>}</FileButton> <span className="quiet">or drop it here, or paste its text:</span>
        <Textarea mt={10} aria-label="The text of the file" autosize minRows={8} maxRows={20} value={text} onChange={(event) => setText(event.currentTarget.value)} styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)', fontSize: 13 } }} />
        <Button mt={10} variant="default" disabled={text.trim() === ''} onClick={() => take('The pasted text', text)}>Read it</Button>
      </div>
    </>
  )
}
