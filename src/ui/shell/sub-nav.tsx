'use client'

import Link from 'next/link'
import { usePathname } from 'next/navigation'

const PAGES = [
  { href: '/checks', name: 'Checks' }, { href: '/services', name: 'Services' }, { href: '/planned', name: 'Planned work' }, { href: '/locations', name: 'Locations' }, { href: '/changes', name: 'Changes' }
]

/** Paths that belong to the section Checks. */
export const WORKSHOP_PATHS = [...PAGES.map((page) => page.href), '/many', '/import']

/** The pages of the section Checks. */
export function SubNav({ children }: { children?: React.ReactNode }) {
  const path = usePathname()
  return (
    <nav className="apart" aria-label="Checks and what belongs to them" style={{ marginBottom: 10 }}>
      <span className="row" style={{ gap: 18 }}>
        {PAGES.map(({ href, name }) => <Link key={href} href={href} aria-current={path === href ? 'page' : undefined} className={path === href ? 'strong' : 'quiet'} style={{ padding: '5px 0', ...(path === href ? { color: 'var(--ink)' } : {}) }}>{name}</Link>)}
      </span>
      <span className="row">{children}</span>
    </nav>
  )
}
