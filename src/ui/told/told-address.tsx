'use client'

import { Button, SegmentedControl } from '@mantine/core'
import { useClipboard } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { useState, useTransition } from 'react'
import { renewAddress } from '../../../app/actions/checks'

type Way = { name: string; says: string; text: string }

const CALLS = (address: string): Way[] => [
  { name: 'when it has run', says: 'At the end of the job; the exit code is told as it is.', text: `your-job; curl -fsS --retry 5 "${address}?exit=$?"` },
  { name: 'beginning and end', says: 'So that too long and overlapping runs are seen as well.', text: `curl -fsS --retry 5 "${address}?event=begin"\nyour-job; curl -fsS --retry 5 "${address}?exit=$?"` },
  { name: 'with its output', says: 'The last 10 000 characters are kept, and conditions can look at them.', text: `your-job > out.txt 2>&1; code=$?\ncurl -fsS --retry 5 --data-binary @out.txt -H "content-type: text/plain" "${address}?exit=$code"` },
  { name: 'runs side by side', says: 'A name tells runs apart that may go on at the same time.', text: `curl -fsS "${address}?event=begin&run=$HOSTNAME-$$"\nyour-job; curl -fsS --retry 5 "${address}?run=$HOSTNAME-$$&exit=$?"` }
]

const NUMBERS = (address: string): Way[] => [
  { name: 'script for a host', says: 'Processor, memory, disks, lines and load of a Linux host, every 30 s; it needs a shell and curl.', text: `curl -fsS ${new URL(address).origin}/host-numbers.sh -o host-numbers.sh\nHEMERON_PUSH="${address}" sh host-numbers.sh` },
  { name: 'JSON', says: 'Any numbers by name.', text: `curl -fsS "${address}" -H "content-type: application/json" -d '{"queue.length": 12, "disk.used": {"data": 0.41}}'` },
  { name: 'exposition', says: 'The text form of OpenMetrics, or of version 0.0.4 before it, as a service shows it.', text: `curl -fsS http://localhost:8080/metrics | curl -fsS --data-binary @- -H "content-type: text/plain" "${address}"` },
  { name: 'OTLP', says: 'For an exporter of the OpenTelemetry protocol.', text: `OTEL_EXPORTER_OTLP_METRICS_PROTOCOL=http/json\nOTEL_EXPORTER_OTLP_ENDPOINT=${address}` }
]

/** The address at which a check is told things, with the lines that do it. Whoever knows it can tell it things. */
export function ToldAddress({ checkKey, what, address, awaited }: { checkKey: string; what: 'calls' | 'numbers'; address: string; awaited: boolean }) {
  const [shown, setShown] = useState(awaited)
  const [busy, start] = useTransition()
  const ways = what === 'calls' ? CALLS(address) : NUMBERS(address)
  const [chosen, setChosen] = useState(ways[0]!.name)
  const clipboard = useClipboard()
  const way = ways.find((each) => each.name === chosen) ?? ways[0]!
  const renew = () => start(async () => {
    const result = await renewAddress(checkKey)
    notifications.show('error' in result ? { message: result.error, color: 'red' } : { message: 'The address is another one now; the one before takes nothing any more.' })
  })
  return (
    <section className="section">
      <div className="apart"><h2>How it is told</h2><Button variant="subtle" onClick={() => setShown(!shown)} aria-expanded={shown}>{shown ? 'Hide' : `Show its address`}</Button></div>
      {shown && (
        <div className="card pad">
          <SegmentedControl size="xs" value={chosen} onChange={setChosen} data={ways.map((each) => each.name)} aria-label="How it is told" />
          <p className="quiet small" style={{ margin: '8px 0' }}>{way.says}</p>
          <pre className="code" style={{ margin: 0, whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' }}>{way.text}</pre>
          <div className="row" style={{ marginTop: 10 }}>
            <Button variant="default" onClick={() => clipboard.copy(way.text)}>{clipboard.copied ? 'Copied' : 'Copy'}</Button>
            <Button variant="subtle" loading={busy} onClick={renew}>Make another address</Button>
            <span className="quiet small">Whoever knows the address can tell this check things.</span>
          </div>
        </div>
      )}
    </section>
  )
}
