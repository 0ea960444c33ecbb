'use client'

import { Button, Checkbox, NumberInput, PasswordInput, Select, Textarea, TextInput } from '@mantine/core'
import { useState } from 'react'
import { METHODS, type HttpTarget } from '@/kinds/http/target'

/** The parts of a request that few checks need: method, headers, body, sign-in, redirects, TLS, protocol. */
export function RequestForm({ target, change }: { target: HttpTarget; change: (target: HttpTarget) => void }) {
  const set = (changes: Partial<HttpTarget>) => change({ ...target, ...changes })
  const headers = Object.entries(target.headers)
  const auth = target.auth === undefined ? 'none' : 'basic' in target.auth ? 'basic' : 'bearer'
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 10, padding: '10px 0' }}>
      <Select size="xs" label="Method" data={[...METHODS]} value={target.method} allowDeselect={false} onChange={(method) => set({ method: method ?? 'GET' })} />
      <NumberInput size="xs" label="Follow redirects, at most" min={0} max={20} value={target.redirects} onChange={(value) => set({ redirects: Number(value) || 0 })} />
      <div style={{ gridColumn: '1 / -1' }}>
        <div className="small strong">Headers</div>
        {headers.map(([name, value], index) => (
          <div key={index} className="row" style={{ marginTop: 4, flexWrap: 'nowrap' }}>
            <TextInput size="xs" aria-label={`Name of header ${index + 1}`} defaultValue={name} onBlur={(event) => set({ headers: Object.fromEntries(headers.map((each, at) => (at === index ? [event.currentTarget.value, value] : each)).filter(([key]) => key !== '')) })} />
            <TextInput size="xs" aria-label={`Value of header ${index + 1}`} style={{ flex: 1 }} defaultValue={value} onBlur={(event) => set({ headers: { ...target.headers, [name]: event.currentTarget.value } })} />
            <Button variant="subtle" aria-label={`Take the header ${name} away`} onClick={() => set({ headers: Object.fromEntries(headers.filter((_, at) => at !== index)) })}>×</Button>
          </div>
        ))}
        <Button variant="subtle" px={0} onClick={() => set({ headers: { ...target.headers, [`x-header-${headers.length + 1}`]: '' } })}>+ header</Button>
      </div>
      <BodyForm key={bodyShape(target)} target={target} set={set} />
      <Select size="xs" label="Sign-in" allowDeselect={false} value={auth} data={[{ value: 'none', label: 'none' }, { value: 'basic', label: 'user and password' }, { value: 'bearer', label: 'bearer token' }]}
        onChange={(value) => set({ auth: value === 'basic' ? { basic: { user: 'user', password: 'password' } } : value === 'bearer' ? { bearer: 'token' } : undefined })} />
      {target.auth && 'basic' in target.auth && <div className="row" style={{ flexWrap: 'nowrap' }}>
        <TextInput size="xs" label="User" defaultValue={target.auth.basic.user} onBlur={(event) => set({ auth: { basic: { ...(target.auth as { basic: { user: string; password: string } }).basic, user: event.currentTarget.value } } })} />
        <PasswordInput size="xs" label="Password" style={{ flex: 1 }} defaultValue={target.auth.basic.password} onBlur={(event) => set({ auth: { basic: { ...(target.auth as { basic: { user: string; password: string } }).basic, password: event.currentTarget.value } } })} /></div>}
      {target.auth && 'bearer' in target.auth && <PasswordInput size="xs" label="Token" defaultValue={target.auth.bearer} onBlur={(event) => set({ auth: { bearer: event.currentTarget.value } })} />}
      <Select size="xs" label="Protocol" allowDeselect={false} value={target.version} data={[{ value: 'any', label: 'HTTP/2 where offered' }, { value: '1.1', label: 'HTTP/1.1 only' }]} onChange={(value) => set({ version: value as HttpTarget['version'] })} />
      <Select size="xs" label="Address family" allowDeselect={false} value={String(target.family ?? 'any')} data={[{ value: 'any', label: 'as looked up' }, { value: '4', label: 'IPv4 only' }, { value: '6', label: 'IPv6 only' }]} onChange={(value) => set({ family: value === 'any' ? undefined : (Number(value) as 4 | 6) })} />
      <Checkbox size="xs" label="Verify the certificate" checked={target.verify} onChange={(event) => set({ verify: event.currentTarget.checked })} mt={8} />
    </div>
  )
}

const SHAPES = [{ value: 'body', label: 'as text' }, { value: 'graphql', label: 'a GraphQL query' }, { value: 'soap', label: 'a SOAP envelope' }, { value: 'upload', label: 'a file, as a form sends it' }]
const FIRST: Record<string, Partial<HttpTarget>> = {
  body: { body: '' }, graphql: { graphql: { query: '{ __typename }' } }, soap: { soap: { version: '1.1', envelope: '<soap:Envelope xmlns:soap="http://schemas.xmlsoap.org/soap/envelope/"><soap:Body></soap:Body></soap:Envelope>' } },
  upload: { upload: { field: 'file', file: 'hello.txt', content: 'hello', type: 'text/plain' } }
}

const bodyShape = (target: HttpTarget): string => (target.graphql ? 'graphql' : target.soap ? 'soap' : target.upload ? 'upload' : 'body')

/** What is sent: text, or one of the shapes that make their own headers and know their own failures. */
function BodyForm({ target, set }: { target: HttpTarget; set: (changes: Partial<HttpTarget>) => void }) {
  const shape = bodyShape(target)
  const take = (next: string | null) => set({ body: undefined, graphql: undefined, soap: undefined, upload: undefined, method: next === 'body' ? 'GET' : 'POST', ...(next === null || next === 'body' ? {} : FIRST[next]) })
  const { graphql, soap, upload } = target
  const text = { size: 'xs' as const, autosize: true, minRows: 2, maxRows: 10, style: { gridColumn: '1 / -1' }, styles: { input: { fontFamily: 'var(--mantine-font-family-monospace)' } } }
  return (
    <>
      <Select size="xs" label="What is sent" allowDeselect={false} data={SHAPES} value={shape} onChange={take} style={{ gridColumn: '1 / -1' }} />
      {shape === 'body' && <Textarea {...text} label="Body" defaultValue={target.body ?? ''} onBlur={(event) => set({ body: event.currentTarget.value === '' ? undefined : event.currentTarget.value })} />}
      {graphql && <>
        <Textarea {...text} label="Query" defaultValue={graphql.query} onBlur={(event) => { if (event.currentTarget.value !== '') set({ graphql: { ...graphql, query: event.currentTarget.value } }) }} />
        <VariablesInput variables={graphql.variables} change={(variables) => set({ graphql: { query: graphql.query, ...(graphql.operation === undefined ? {} : { operation: graphql.operation }), ...(variables ? { variables } : {}) } })} />
      </>}
      {soap && <>
        <Textarea {...text} label="Envelope" defaultValue={soap.envelope} onBlur={(event) => { if (event.currentTarget.value !== '') set({ soap: { ...soap, envelope: event.currentTarget.value } }) }} />
        <TextInput size="xs" label="Action" defaultValue={soap.action ?? ''} onBlur={(event) => set({ soap: { envelope: soap.envelope, version: soap.version, ...(event.currentTarget.value === '' ? {} : { action: event.currentTarget.value }) } })} />
        <Select size="xs" label="SOAP version" allowDeselect={false} data={['1.1', '1.2']} value={soap.version} onChange={(version) => set({ soap: { ...soap, version: version as '1.1' } })} />
      </>}
      {upload && <>
        {(['field', 'file', 'type'] as const).map((name) => <TextInput key={name} size="xs" label={{ field: 'Field of the form', file: 'Name of the file', type: 'Media type' }[name]} defaultValue={upload[name] ?? ''} onBlur={(event) => { if (event.currentTarget.value !== '') set({ upload: { ...upload, [name]: event.currentTarget.value } }) }} />)}
        <Textarea {...text} label="What is in the file" defaultValue={upload.content} onBlur={(event) => { if (event.currentTarget.value !== '') set({ upload: { ...upload, content: event.currentTarget.value } }) }} />
      </>}
    </>
  )
}

function VariablesInput({ variables, change }: { variables: Record<string, unknown> | undefined; change: (variables: Record<string, unknown> | undefined) => void }) {
  const [problem, setProblem] = useState<string>()
  const take = (text: string) => {
    try {
      const value = text.trim() === '' ? undefined : JSON.parse(text) as Record<string, unknown>
      setProblem(undefined)
      change(value)
    } catch {
      setProblem('Expected JSON such as { "id": 7 }.')
    }
  }
  return <Textarea size="xs" label="Variables, as JSON" error={problem} style={{ gridColumn: '1 / -1' }} autosize minRows={1} defaultValue={variables ? JSON.stringify(variables) : ''} onBlur={(event) => take(event.currentTarget.value)} />
}
