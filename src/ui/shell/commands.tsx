'use client'

import { Modal, Table, useMantineColorScheme } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { Spotlight, type SpotlightActionData } from '@mantine/spotlight'
import { useRouter } from 'next/navigation'
import { useEffect, useState } from 'react'
import { byName } from './by-name'

export interface CommandTargets {
  checks: { key: string; name: string; service: string }[]
  incidents: { id: number; name: string }[]
  isDemo: boolean
}

const KEYS: [string, string][] = [
  ['Ctrl K', 'find or do anything'], ['g t', 'Today'], ['g c', 'Checks'], ['g i', 'Incidents'], ['g f', 'Find out'], ['g r', 'Routing'], ['n', 'new check'],
  ['r', 'run now, on a check'], ['e', 'edit, on a check'], ['t', 'take it, on an incident'], ['w', 'write a note, on an incident'], ['/', 'filter, in a table'], ['?', 'this list']
]

/** Ctrl K, and the single keys that work on every page. Single keys never fire while typing. */
export function Commands({ checks, incidents, isDemo }: CommandTargets) {
  const router = useRouter()
  const { setColorScheme, colorScheme } = useMantineColorScheme()
  const [help, setHelp] = useState(false)
  const [going, setGoing] = useState(false)
  const go = (href: string) => () => router.push(href)
  const afterG = (href: string) => {
    if (!going) return
    setGoing(false)
    router.push(href)
  }
  useHotkeys([
    ['g', () => { setGoing(true); setTimeout(() => setGoing(false), 1200) }],
    ['t', () => afterG('/')], ['c', () => afterG('/checks')], ['i', () => afterG('/incidents')], ['f', () => afterG('/find-out')], ['r', () => afterG('/routing')],
    ['n', go('/checks/new')]
  ])
  useEffect(() => {
    // which key makes a question mark differs between keyboards, so the character counts and not the key
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && (event.target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(event.target.tagName))
      if (event.key === '?' && !typing && !event.ctrlKey && !event.metaKey) setHelp(true)
    }
    document.addEventListener('keydown', onKey)
    return () => document.removeEventListener('keydown', onKey)
  }, [])
  const action = (id: string, label: string, description: string, onClick: () => void): SpotlightActionData => ({ id, label, description, onClick })
  const actions = [
    ...incidents.map((incident) => action(`incident-${incident.id}`, `Incident: ${incident.name}`, 'open', go(`/incidents/${incident.id}`))),
    action('today', 'Today', 'does anything need me?', go('/')),
    action('new', 'New check', 'watch an address', go('/checks/new')),
    action('incidents', 'Incidents', 'what happened, who has it?', go('/incidents')),
    action('find-out', 'Find out', 'where and why: times and failures, split and compared', go('/find-out')),
    action('routing', 'Routing', 'who hears what, channels, sent messages', go('/routing')),
    ...(isDemo ? [action('drills', 'Drills', 'made-up faults, and the messages that arrived', go('/drills'))] : []),
    action('services', 'Services', 'what checks have in common; copies to stages', go('/services')),
    action('many', 'Paste a list of addresses', 'many checks at once', go('/many')),
    action('import', 'Import a file', 'CSV, HAR, OpenAPI, definitions', go('/import')),
    action('planned', 'Planned work', 'work and release windows', go('/planned')),
    action('locations', 'Locations', 'where checks run from, and their probes', go('/locations')),
    action('changes', 'Changes', 'who changed what; undo', go('/changes')),
    action('defaults', 'Defaults', 'what every check begins with; variables of the workspace', go('/defaults')),
    action('settings', 'Settings', 'zone, address, retention, tokens', go('/settings')),
    action('account', 'Account', 'password, theme', go('/account')),
    action('theme', 'Switch between day and night', `now ${colorScheme === 'dark' ? 'night' : 'day'}`, () => setColorScheme(colorScheme === 'dark' ? 'light' : 'dark')),
    action('keys', 'Keys', 'what single keys do', () => setHelp(true)),
    ...checks.map((check) => action(`check-${check.key}`, check.name, check.service || 'no service', go(`/checks/${check.key}`)))
  ]
  return (
    <>
      <Spotlight actions={actions} filter={(text, things) => byName(text, things as SpotlightActionData[])} limit={12} shortcut={['mod + K']} nothingFound="Nothing is called that" searchProps={{ placeholder: 'Find or do anything', 'aria-label': 'Find or do anything' }} scrollable maxHeight={420} />
      <Modal opened={help} onClose={() => setHelp(false)} title="Keys">
        <Table><Table.Tbody>{KEYS.map(([key, does]) => <Table.Tr key={key}><Table.Td w={90}><kbd>{key}</kbd></Table.Td><Table.Td>{does}</Table.Td></Table.Tr>)}</Table.Tbody></Table>
      </Modal>
    </>
  )
}
