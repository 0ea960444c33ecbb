/** What two lines stand for, each by a piece of itself: before dashed, after drawn through. The words keep the colour of words. */
export function SeriesKey({ before, after }: { before: string; after: string }) {
  return (
    <span className="row small quiet" style={{ gap: 14 }}>
      {([[before, '--series-6', '5 3'], [after, '--series-1', undefined]] as const).map(([said, colour, dashes]) => (
        <span key={colour} className="row" style={{ gap: 6 }}><svg width={18} height={8} aria-hidden><line x1={0} y1={4} x2={18} y2={4} stroke={`var(${colour})`} strokeWidth={2} strokeDasharray={dashes} /></svg>{said}</span>
      ))}
    </span>
  )
}
