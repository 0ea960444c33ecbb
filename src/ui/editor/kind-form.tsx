'use client'

import { Checkbox, PasswordInput, Select, Textarea, TextInput } from '@mantine/core'
import { useState } from 'react'
import type { KindDefinition } from '@/core/definitions/kind'
import type { FormField } from '@/core/definitions/target-fields'
import type { HttpTarget } from '@/kinds/http/target'
import type { SequenceTarget } from '@/kinds/sequence/target'
import { RequestForm } from './request-form'
import { StepsForm } from './steps-form'

/** What can be set beside the sentence, in a few words; empty when there is nothing. */
export function moreOf(kind: KindDefinition): string {
  if (kind.kind === 'http') return 'method, headers, body, sign-in, TLS'
  if (kind.kind === 'sequence') return 'all requests, preparation, clean-up'
  const names = kind.form.map((field) => field.label)
  return names.length > 5 ? `${names.slice(0, 4).join(', ')} and more` : names.join(', ')
}

/** The parts of a target that do not stand in its sentence. */
export function KindForm({ kind, target, change }: { kind: KindDefinition; target: unknown; change: (target: unknown) => void }) {
  if (kind.kind === 'http') return <RequestForm target={target as HttpTarget} change={change} />
  if (kind.kind === 'sequence') return <StepsForm target={target as SequenceTarget} change={change} />
  const values = target as Record<string, unknown>
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 10, padding: '10px 0' }}>
      {kind.form.map((field) => <FieldInput key={`${kind.kind}/${field.name}`} field={field} value={values[field.name]} change={(value) => change({ ...values, [field.name]: value })} />)}
    </div>
  )
}

function FieldInput({ field, value, change }: { field: FormField; value: unknown; change: (value: unknown) => void }) {
  const [expected, setExpected] = useState<string>()
  const spoken = field.speak(value)
  const take = (text: string) => {
    if (text === spoken) return
    const typed = field.typed(text)
    const isWrong = typed !== null && typeof typed === 'object' && 'expected' in typed
    setExpected(isWrong ? `Expected ${(typed as { expected: string }).expected}.` : undefined)
    if (!isWrong) change(typed)
  }
  const label = field.label.charAt(0).toUpperCase() + field.label.slice(1)
  const shared = { size: 'xs' as const, label, error: expected, defaultValue: spoken, onBlur: (event: React.FocusEvent<HTMLInputElement | HTMLTextAreaElement>) => take(event.currentTarget.value) }
  switch (field.as) {
    case 'flag': return <Checkbox size="xs" label={label} checked={value === true} onChange={(event) => change(event.currentTarget.checked)} mt={8} />
    case 'choice': return <Select size="xs" label={label} data={[...(field.offers ?? [])]} value={spoken || null} clearable onChange={(text) => take(text ?? '')} />
    case 'secret': return <PasswordInput {...shared} autoComplete="off" />
    case 'lines': return <Textarea {...shared} autosize minRows={2} maxRows={12} style={{ gridColumn: '1 / -1' }} />
    case 'text': return <TextInput {...shared} />
  }
}
