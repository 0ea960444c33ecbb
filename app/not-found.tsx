import Link from 'next/link'

export default function NotFound() {
  return <main className="page"><div className="card empty"><h2>There is nothing here.</h2><p className="quiet">It may have been removed or renamed.</p><Link href="/">Go to Today</Link></div></main>
}
