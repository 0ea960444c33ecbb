'use client'

import { Avatar, Button, Menu, UnstyledButton } from '@mantine/core'
import { spotlight } from '@mantine/spotlight'
import { IconPlus } from '@tabler/icons-react'
import Link from 'next/link'
import { usePathname } from 'next/navigation'
import { WORKSHOP_PATHS } from './sub-nav'
import classes from './header.module.css'

export interface HeaderProps {
  person: { name: string; mail: string }
  openIncidents: number
  isDemo: boolean
  signOut: () => Promise<void>
}

const SECTIONS = [
  { href: '/', name: 'Today' }, { href: '/checks', name: 'Checks' }, { href: '/incidents', name: 'Incidents' }, { href: '/find-out', name: 'Find out' }, { href: '/routing', name: 'Routing' }
]

/** The bar at the top of every page. */
export function Header({ person, openIncidents, isDemo, signOut }: HeaderProps) {
  const path = usePathname()
  const initials = person.name.split(/\s+/).map((word) => word[0]).slice(0, 2).join('')
  return (
    <header className={classes.header}>
      <Link href="/" className={classes.logo} aria-label="Hemeron, Today">
        <svg width="24" height="16" viewBox="0 0 24 16" aria-hidden><path d="M0 13.5H24" stroke="var(--action)" strokeWidth="2" /><rect x="13" y="4" width="5" height="9" fill="var(--down)" /></svg>
        <span>hemeron</span>
      </Link>
      <nav className={classes.sections} aria-label="Sections">
        {[...SECTIONS, ...(isDemo ? [{ href: '/drills', name: 'Drills' }] : [])].map(({ href, name }) => {
          const active = href === '/' ? path === '/' : href === '/checks' ? WORKSHOP_PATHS.some((each) => path.startsWith(each)) : path.startsWith(href)
          return (
            <Link key={href} href={href} className={classes.section} data-active={active || undefined} aria-current={active ? 'page' : undefined}>
              {name}{href === '/incidents' && openIncidents > 0 && <span className={classes.count} aria-label={`${openIncidents} open`}>{openIncidents}</span>}
            </Link>
          )
        })}
      </nav>
      <UnstyledButton className={classes.find} onClick={spotlight.open} aria-label="Find or do anything, Control K">
        <span className="clip">Find or do anything</span><kbd className={classes.key}>Ctrl K</kbd>
      </UnstyledButton>
      <Button component={Link} href="/checks/new" leftSection={<IconPlus size={14} aria-hidden />} className="wide-only">New check</Button>
      <Menu position="bottom-end" width={200} shadow="md">
        <Menu.Target><UnstyledButton aria-label={`${person.name}: account and settings`} className={classes.person}><Avatar size={28} radius="xl" color="action" variant="light">{initials}</Avatar></UnstyledButton></Menu.Target>
        <Menu.Dropdown>
          <Menu.Label>{person.name}<br />{person.mail}</Menu.Label>
          <Menu.Item component={Link} href="/account">Account</Menu.Item>
          <Menu.Item component={Link} href="/settings">Settings</Menu.Item>
          <Menu.Item component={Link} href="/defaults">Defaults</Menu.Item>
          <Menu.Divider />
          <Menu.Item onClick={() => void signOut()}>Sign out</Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </header>
  )
}
