import type { SentencePiece } from '@/core/sentence/sentence'

/** Where a value that is not the check's own comes from, in words. */
export function speakOrigin(piece: Pick<SentencePiece, 'origin'>): string | undefined {
  switch (piece.origin) {
    case 'service': return 'from the service'
    case 'workspace': return 'from the workspace'
    default: return undefined
  }
}
