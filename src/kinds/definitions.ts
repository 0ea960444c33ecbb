import type { KindDefinition, Kinds } from '../core/definitions/kind'
import { httpDefinition } from './http/definition'

const all: KindDefinition<never>[] = [
  httpDefinition as unknown as KindDefinition<never>
]

/** Every kind of check, by its key in definitions. */
export const kinds: Kinds = Object.fromEntries(all.map((definition) => [definition.kind, definition]))
