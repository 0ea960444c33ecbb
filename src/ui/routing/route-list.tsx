'use client'

import { Button, Menu } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { useTransition } from 'react'
import type { RouteDocument } from '@/core/routing/route'
import { changeRoute, routeSentence, type RoutingNames } from '@/core/sentence/route-sentence'
import { Part } from '../sentence/part'
import { addRoute, moveRoute, removeRouting, saveRouting } from '../../../app/actions/routing'
import type { Result } from '../../../app/actions/result'

export interface RouteLine {
  key: string
  document: RouteDocument
  version: number
  checks: number
}

const tellProblem = (result: Result<unknown>) => {
  if ('error' in result) notifications.show({ message: result.error, color: 'red' })
}

/** The routes as sentences in their order. A part is edited in place; Alt with an arrow key moves the route that has the focus. */
export function RouteList({ routes, names, canEdit }: { routes: RouteLine[]; names: RoutingNames; canEdit: boolean }) {
  const [busy, start] = useTransition()
  const run = (work: () => Promise<Result<unknown>>) => start(async () => tellProblem(await work()))
  return (
    <ol style={{ listStyle: 'none', margin: 0, padding: 0, display: 'grid', gap: 10, opacity: busy ? 0.7 : 1 }}>
      {routes.map((route, index) => (
        <li key={route.key} className="card" style={{ display: 'grid', gridTemplateColumns: '26px minmax(0, 1fr) auto', gap: 4, padding: '14px 14px 12px' }} data-route={route.key}
          onKeyDown={(event) => {
            if (!canEdit || !event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
            event.preventDefault()
            run(() => moveRoute(route.key, event.key === 'ArrowUp' ? -1 : 1))
          }}>
          <b className="quiet" style={{ lineHeight: 1.9 }}>{index + 1}</b>
          <div style={{ fontSize: 15, lineHeight: 1.9 }}><RouteSentence route={route} names={names} canEdit={canEdit} run={run} /></div>
          <div style={{ textAlign: 'right', whiteSpace: 'nowrap' }}>
            <div className="quiet small" style={{ lineHeight: 2.2 }}>{route.checks} {route.checks === 1 ? 'check' : 'checks'}</div>
            {canEdit && <RouteMenu route={route} isFirst={index === 0} isLast={index === routes.length - 1} run={run} />}
          </div>
        </li>
      ))}
    </ol>
  )
}

type Run = (work: () => Promise<Result<unknown>>) => void

function RouteSentence({ route, names, canEdit, run }: { route: RouteLine; names: RoutingNames; canEdit: boolean; run: Run }) {
  return routeSentence(route.document, names).map((piece, index) => {
    const { part } = piece
    if (part === undefined || !canEdit) return <span key={index} className={part === undefined ? undefined : 'strong'}>{piece.text}</span>
    return (
      <Part key={`${part}/${piece.text}`} piece={{ ...piece, part }} commit={(text) => {
        const changed = changeRoute(route.document, names, part, text)
        if ('expected' in changed) return changed.expected
        run(() => saveRouting('route', route.key, changed.document, route.version))
        return undefined
      }} />
    )
  })
}

/** What a route may do besides, which its sentence says only when it does. */
const TURNS = [{ field: 'urgent', value: true, text: 'Mark its messages as urgent' }, { field: 'goOn', value: true, text: 'Ask the routes below too' }, { field: 'recovery', value: 'nobody', text: 'Keep the end to itself' }]

function RouteMenu({ route, isFirst, isLast, run }: { route: RouteLine; isFirst: boolean; isLast: boolean; run: Run }) {
  const steps = route.document.then as Record<string, unknown>[]
  const withSteps = (then: unknown[]) => run(() => saveRouting('route', route.key, { ...route.document, then }, route.version))
  return (
    <Menu position="bottom-end">
      <Menu.Target><Button variant="subtle" size="compact-sm" aria-label={`Change route ${route.key}`}>Change</Button></Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => withSteps([...steps, { after: '10m', unless: 'taken', tell: 'everyone', by: ['mail'] }])}>Add a step</Menu.Item>
        {steps.length > 1 && <Menu.Item onClick={() => withSteps(steps.slice(0, -1))}>Take the last step away</Menu.Item>}
        {steps.at(-1)!.again === undefined && <Menu.Item onClick={() => withSteps([...steps.slice(0, -1), { ...steps.at(-1), again: '30m' }])}>Repeat the last step every 30 min</Menu.Item>}
        {TURNS.map(({ field, value, text }) => route.document[field] === undefined && <Menu.Item key={field} onClick={() => run(() => saveRouting('route', route.key, { ...route.document, [field]: value }, route.version))}>{text}</Menu.Item>)}
        {!isFirst && <Menu.Item onClick={() => run(() => moveRoute(route.key, -1))}>Move up</Menu.Item>}
        {!isLast && <Menu.Item onClick={() => run(() => moveRoute(route.key, 1))}>Move down</Menu.Item>}
        <Menu.Item onClick={() => run(() => removeRouting('route', route.key))}>Remove the route</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  )
}

/** Adds a route on top. */
export function NewRoute() {
  const [busy, start] = useTransition()
  return <Button variant="default" loading={busy} onClick={() => start(async () => tellProblem(await addRoute()))}>New route</Button>
}
