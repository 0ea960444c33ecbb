import { markColours } from '@/core/table/tag-colour'
import classes from './table.module.css'

/** A tag with its own colour as a mark; the words are ink, so that any colour can be read. */
export function Tag({ name, colour }: { name: string; colour?: string }) {
  if (!colour) return <span className="chip">{name}</span>
  const { day, night } = markColours(colour)
  return <span className={`chip ${classes.tag}`} style={{ '--tag-day': day, '--tag-night': night } as React.CSSProperties}>{name}</span>
}
