'use client'

import { Button, Menu } from '@mantine/core'
import type { ReactNode } from 'react'
import type { KindDefinition } from '@/core/definitions/kind'
import { offered } from './new-conditions'

/** The button with a menu of conditions to begin with; a long one scrolls below the head of the page. */
export function OfferedConditions({ kind, label, add, children }: { kind: KindDefinition; label: string; add: (written: Record<string, unknown>) => void; children?: ReactNode }) {
  return (
    <Menu position="bottom-start"><Menu.Target><Button variant="subtle" px={0}>{label}</Button></Menu.Target>
      <Menu.Dropdown style={{ maxHeight: '44vh', overflowY: 'auto' }}>{offered(kind).map(({ name, written }) => <Menu.Item key={name} onClick={() => add(written)}>{name}</Menu.Item>)}{children}</Menu.Dropdown></Menu>
  )
}
