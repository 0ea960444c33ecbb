'use client'

import { Button, Menu, MultiSelect, TextInput } from '@mantine/core'
import { useState } from 'react'
import type { VariableValue } from '@/core/layers/variables'
import { isVariableName } from '@/core/layers/variables'
import type { Draft } from './use-draft'

/** Parts that few checks have: hours, a release window, needs and variables of its own. */
export function MoreParts({ draft, checks }: { draft: Draft; checks: { key: string; name: string }[] }) {
  const { document, settled, set } = draft
  const [asked, setAsked] = useState<'needs' | 'variables'>()
  const showsNeeds = settled.check.needs.length > 0 || asked === 'needs'
  const showsVariables = document.variables !== undefined || asked === 'variables'
  return (
    <>
      {showsNeeds && (
        <MultiSelect size="xs" label="It needs these checks; while one of them is down, its own failure is explained" searchable value={settled.check.needs} data={checks.filter((each) => each.key !== document.check).map((each) => ({ value: each.key, label: each.name }))}
          onChange={(needs) => set({ needs: needs.length > 0 ? needs : undefined })} my={8} comboboxProps={{ width: 320 }} />
      )}
      {showsVariables && <VariableRows variables={(document.variables ?? {}) as Record<string, string>} change={(variables) => set({ variables })} />}
      <UsedVariables used={settled.used} />
      <Menu position="bottom-start"><Menu.Target><Button variant="subtle" px={0}>+ hours, release window, needs, variables</Button></Menu.Target>
        <Menu.Dropdown>
          <Menu.Item disabled={settled.check.hours !== undefined} onClick={() => set({ hours: { at: ['mon-fri 06:00-22:00'] } })}>Run it only at certain hours</Menu.Item>
          <Menu.Item disabled={settled.check.window !== undefined} onClick={() => set({ window: { every: '10s' } })}>Run it more often while a release window is open</Menu.Item>
          <Menu.Item disabled={settled.check.window !== undefined} onClick={() => set({ window: { only: true } })}>Run it only while a release window is open</Menu.Item>
          <Menu.Item onClick={() => setAsked('needs')}>Say which checks it needs</Menu.Item>
          <Menu.Item onClick={() => setAsked('variables')}>Give it variables of its own</Menu.Item>
        </Menu.Dropdown></Menu>
    </>
  )
}

/** Which variables the check uses, and where each value comes from. */
function UsedVariables({ used }: { used: VariableValue[] }) {
  if (used.length === 0) return null
  return (
    <div className="small quiet" style={{ padding: '4px 0' }}>
      {used.map(({ name, value, from, secret }, index) => <span key={name}>{index > 0 && ' · '}<code>{`\${${name}}`}</code> is <code>{secret ? 'a secret' : value}</code>, from {from === 'check' ? 'this check' : `the ${from}`}</span>)}
    </div>
  )
}

/** Rows of names and values. A name that is none says so; an emptied name takes its row away. */
export function VariableRows({ variables, change }: { variables: Record<string, string>; change: (variables: Record<string, string> | undefined) => void }) {
  const [rows, setRows] = useState(() => [...Object.entries(variables), ['', ''] as [string, string]])
  const put = (index: number, row: [string, string]) => {
    const next = rows.map((each, at) => (at === index ? row : each))
    const filled = next.filter(([name], at) => name !== '' || at === next.length - 1)
    setRows(filled.at(-1)?.[0] === '' ? filled : [...filled, ['', '']])
    const named = filled.filter(([name]) => isVariableName(name))
    change(named.length > 0 ? Object.fromEntries(named) : undefined)
  }
  return (
    <div style={{ display: 'grid', gap: 4, margin: '8px 0' }}>
      {rows.map(([name, value], index) => (
        <div key={index} className="row" style={{ flexWrap: 'nowrap', alignItems: 'flex-start' }}>
          <TextInput size="xs" w={170} aria-label={`Name of variable ${index + 1}`} placeholder="NAME" value={name} error={name !== '' && !isVariableName(name) ? 'letters, digits and _' : undefined} onChange={(event) => put(index, [event.currentTarget.value, value])} styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)' } }} />
          <TextInput size="xs" style={{ flex: 1 }} aria-label={`Value of variable ${index + 1}`} placeholder="its value" value={value} onChange={(event) => put(index, [name, event.currentTarget.value])} styles={{ input: { fontFamily: 'var(--mantine-font-family-monospace)' } }} />
        </div>
      ))}
    </div>
  )
}
