'use client'

import Link from 'next/link'
import { usePathname } from 'next/navigation'

const PAGES = [{ href: '/routing', name: 'Routes' }, { href: '/routing/rotas', name: 'Rotas' }, { href: '/routing/people', name: 'People' }, { href: '/routing/channels', name: 'Channels' }, { href: '/routing/sent', name: 'Sent' }]

/** The title of a page about who hears what, the pages beside it, and what can be done. */
export function RoutingHead({ title, children }: { title: string; children?: React.ReactNode }) {
  const path = usePathname()
  return (
    <div className="apart" style={{ marginBottom: 12 }}>
      <h1>{title}</h1>
      <span className="row" style={{ gap: 22 }}>
        <nav className="row" aria-label="Pages about who hears what" style={{ gap: 18 }}>
          {PAGES.map(({ href, name }) => <Link key={href} href={href} aria-current={path === href ? 'page' : undefined} className={path === href ? 'strong' : 'quiet'} style={{ padding: '5px 0', borderBottom: `2px solid ${path === href ? 'var(--action)' : 'transparent'}` }}>{name}</Link>)}
        </nav>
        {children}
      </span>
    </div>
  )
}
