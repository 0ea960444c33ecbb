'use client'

import Link from 'next/link'
import { usePathname } from 'next/navigation'

const PAGES = [{ href: '/find-out', name: 'Question' }, { href: '/find-out/places', name: 'Places' }, { href: '/find-out/marks', name: 'Marks' }, { href: '/find-out/parties', name: 'Parties' }]

/** The pages of the section Find out, with the title and what can be done. */
export function FindOutHead({ title, children }: { title?: string; children?: React.ReactNode }) {
  const path = usePathname()
  return (
    <div className="apart" style={{ marginBottom: title ? 12 : 4 }}>
      {title ? <h1 style={{ flex: '1 1 320px' }}>{title}</h1> : <span />}
      <span className="row" style={{ gap: 22 }}>
        <nav className="row" aria-label="Pages that find out" style={{ gap: 18, flexWrap: 'nowrap' }}>
          {PAGES.map(({ href, name }) => <Link key={href} href={href} aria-current={path === href ? 'page' : undefined} className={path === href ? 'strong' : 'quiet'} style={{ padding: '5px 0', borderBottom: `2px solid ${path === href ? 'var(--action)' : 'transparent'}` }}>{name}</Link>)}
        </nav>
        {children}
      </span>
    </div>
  )
}
