'use client'

import { Button } from '@mantine/core'

/** What is shown when a page could not be made; most often the database is away for a moment. */
export default function Failed({ reset }: { error: Error; reset: () => void }) {
  return <main className="page"><div className="card empty"><h2>This page could not be made.</h2><p className="quiet">The database may be away for a moment. Checks go on running, and nothing they see is lost.</p><Button onClick={reset}>Try again</Button></div></main>
}
