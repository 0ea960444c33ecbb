import { plainText } from '../sentence/sentence'
import { speakDuration } from './duration'
import { FAMILIES, type KindDefinition, type Kinds } from './kind'

const HEADINGS: Record<KindDefinition['family'], string> = { web: 'Web', network: 'Network', services: 'Services', inside: 'From inside', derived: 'From other checks' }

/** The page of the documentation that lists all kinds, made of what each says about itself. */
export function kindsPage(kinds: Kinds): string {
  const all = Object.values(kinds) as unknown as KindDefinition[]
  return `# Kinds of checks

Every kind says what it proves and what it does not. The key is the word in definitions, as in \`dns: { name: www.example.org }\`; the editor offers the same fields, and \`GET /api/v1/openapi.json\` describes them all. Conditions on status, text, pattern, JSON, XML, headers, certificate, size and the phases of the time are the same wherever a kind has such a thing; numbers and words of its own are listed with each.

Every kind may be turned round (\`turned: true\`: a port that must stay shut), has a time it waits at most (\`wait\`), and names a failure by a reason of one closed list with a sentence beside it. Credentials belong into secrets; they are cut out of everything that is kept.
${FAMILIES.filter((family) => all.some((kind) => kind.family === family)).map((family) => `\n## ${HEADINGS[family]}\n${all.filter((kind) => kind.family === family).map(section).join('')}`).join('')}`
}

function section(kind: KindDefinition): string {
  const { required = [], properties = {} } = kind.jsonSchema as { required?: string[]; properties?: Record<string, { title?: string; default?: unknown; enum?: string[] }> }
  const field = (name: string) => {
    const { title, default: usual, enum: choices } = properties[name]!
    const notes = [...(required.includes(name) ? ['needed'] : []), ...(choices ? [choices.join(', ')] : []), ...(usual === undefined || usual === false ? [] : [`usually ${String(usual)}`])]
    return `\`${name}\`${title && title !== name ? ` ${title}` : ''}${notes.length > 0 ? ` (${notes.join('; ')})` : ''}`
  }
  const own = [...Object.entries(kind.readings).map(([name, { says, unit }]) => `\`${name}\` ${says} (${unit})`), ...Object.entries(kind.facts).map(([name, { says }]) => `\`${name}\` ${says}`)]
  return `
### ${kind.name.charAt(0).toUpperCase()}${kind.name.slice(1)}: \`${kind.kind}\`

${kind.proves} It does not prove: ${kind.doesNotProve.charAt(0).toLowerCase()}${kind.doesNotProve.slice(1)}

*${plainText(kind.sentence(kind.read(kind.blank)))}.*

- Fields: ${Object.keys(properties).map(field).join('; ')}.
${kind.subjects.length > 0 ? `- Conditions on: ${[...new Set<string>([...kind.subjects, 'phase'])].join(', ')}.\n` : ''}${own.length > 0 ? `- Its own numbers and words: ${own.join('; ')}.\n` : ''}${kind.phases.length > 1 ? `- Parts of its time: ${kind.phases.join(', ')}.\n` : ''}${kind.shortest === undefined ? '' : `- Asked every ${speakDuration(kind.shortest)} at most.\n`}`
}
