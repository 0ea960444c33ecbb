import type { Sentence } from '@/core/sentence/sentence'
import { speakOrigin } from './origin'
import classes from './sentence.module.css'

/** A sentence to read; its changeable parts lead to the editor, opened at that part. */
export function SentenceView({ sentence, editHref }: { sentence: Sentence; editHref?: string }) {
  return (
    <>
      {sentence.map((piece, index) => {
        const look = piece.look ? classes[piece.look] : undefined
        if (!piece.part || !editHref) return <span key={index} className={look}>{piece.text}</span>
        if (piece.look === 'code') return <a key={index} href={`${editHref}?part=${encodeURIComponent(piece.part)}`} className={`${classes.code} ${classes.plain}`}>{piece.text}</a>
        return <a key={index} href={`${editHref}?part=${encodeURIComponent(piece.part)}`} className={speakOrigin(piece) ? `${classes.part} ${classes.inherited}` : classes.part} title={speakOrigin(piece) ?? piece.label}>{piece.text}</a>
      })}
    </>
  )
}
