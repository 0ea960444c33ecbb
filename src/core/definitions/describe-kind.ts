import type { CommonSubject } from '../conditions/subject'
import { refersToVariables } from '../layers/variables'
import type { Sentence, SentencePiece } from '../sentence/sentence'
import type { KindDefinition } from './kind'
import { exactly } from './problems-of'
import type { FormField, TargetField } from './target-fields'
import type * as yup from 'yup'

type Fields<Target> = { [Name in keyof Required<Target>]: TargetField<NonNullable<Target[Name]>> }

/** A field of the target as a changeable part of the sentence. */
export type PartOf<Target> = (name: keyof Target & string, more?: Partial<SentencePiece>) => SentencePiece

interface Description<Target> extends Pick<KindDefinition<Target>, 'kind' | 'name' | 'family' | 'proves' | 'doesNotProve' | 'address' | 'guess' | 'phases' | 'blank'>,
  Partial<Pick<KindDefinition<Target>, 'requests' | 'firstConditions' | 'offers' | 'readings' | 'facts' | 'shortest' | 'lacks' | 'telling' | 'inside' | 'members' | 'renamed' | 'takes'>> {
  fields: Fields<Target>
  /** The field with the address, as it stands in the sentence. */
  addressField: keyof Target & string
  /** Fields that stand in the sentence; all others are asked for in the form. */
  inSentence: readonly (keyof Target & string)[]
  sentence: (target: Target, part: PartOf<Target>) => Sentence
  subjects?: readonly CommonSubject[]
  /** Takes an address as it is typed into its part, where that says more than one field: `host:port`. */
  takeAddress?: (target: Target, text: string) => Target | { expected: string } | undefined
  /** Rules about several fields together. */
  together?: (schema: yup.ObjectSchema<yup.AnyObject>) => yup.Schema
}

/** Makes a kind's definition of its fields: the schema, reading and writing, the parts of its sentence and its form. */
export function describeKind<Target extends object>(description: Description<Target>): KindDefinition<Target> {
  const { kind, fields, addressField, inSentence, sentence, together, takeAddress, ...rest } = description
  const entries = Object.entries(fields) as [keyof Target & string, TargetField<unknown>][]
  const schema = exactly(Object.fromEntries(entries.map(([name, field]) => [name, field.schema])))
  const part = (target: Target): PartOf<Target> => (name, more) => {
    const field = fields[name] as TargetField<unknown>
    const value = target[name]
    return { text: value === undefined ? '' : field.speak(value), part: `${kind}.${name}`, label: field.label, ...(field.offers ? { offers: [...field.offers] } : {}), ...more }
  }
  return {
    requests: () => 1, firstConditions: () => [], offers: [], readings: {}, facts: {}, subjects: [],
    ...rest,
    kind,
    schema: together ? together(schema) : schema,
    jsonSchema: {
      type: 'object', additionalProperties: false, description: rest.proves, required: entries.filter(([, field]) => field.isNeeded).map(([name]) => name),
      properties: Object.fromEntries(entries.map(([name, field]) => [name, { title: field.label, ...field.json }]))
    },
    read: (written) => Object.fromEntries(entries.flatMap(([name, field]) => {
      const value = written[name] === undefined ? field.otherwise : field.read(written[name])
      return value === undefined ? [] : [[name, value]]
    })) as Target,
    write: (target) => Object.fromEntries(entries.flatMap(([name, field]) => {
      const value = target[name]
      return value === undefined || value === field.otherwise ? [] : [[name, field.write(value)]]
    })),
    sentence: (target) => sentence(target, part(target)),
    readPart: (target, path, text) => {
      if (path === `${kind}.more`) return target
      const name = path.startsWith(`${kind}.`) ? path.slice(kind.length + 1) as keyof Target & string : undefined
      const field = name && (fields[name] as TargetField<unknown> | undefined)
      if (!name || !field) return undefined
      const taken = name === addressField && takeAddress && !refersToVariables(text) ? takeAddress(target, text.trim()) : undefined
      if (taken !== undefined) return taken
      const value = field.typed(text.trim())
      return value !== null && typeof value === 'object' && 'expected' in value ? value as { expected: string } : { ...target, [name]: value }
    },
    addressPart: `${kind}.${addressField}`,
    form: entries.filter(([name]) => !inSentence.includes(name)).map(([name, field]): FormField => ({
      name, label: field.label, as: field.as, ...(field.offers ? { offers: field.offers } : {}),
      speak: (value) => (value === undefined ? '' : field.speak(value)), typed: (text) => (text === '' ? field.otherwise : field.typed(text))
    })),
    secretsOf: (target) => entries.flatMap(([name, field]) => (field.as === 'secret' && typeof target[name] === 'string' ? [target[name] as string] : []))
  }
}
