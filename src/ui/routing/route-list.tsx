'use client'

import { Button, Menu } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import { closestCenter, DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core'
import { arrayMove, SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { useHotkeys } from '@mantine/hooks'
import { IconGripVertical } from '@tabler/icons-react'
import { useEffect, useState, useTransition } from 'react'
import type { RouteDocument } from '@/core/routing/route'
import { changeRoute, routeSentence, type RoutingNames } from '@/core/sentence/route-sentence'
import { Part } from '../sentence/part'
import { addRoute, orderRoutes, previewOrder, removeRouting, saveRouting } from '../../../app/actions/routing'
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

/**
 * The routes as sentences in their order. A part is edited in place. Dragging, or Alt with an arrow key, puts routes into
 * another order; whom that gives more and whom less is said before it counts.
 */
export function RouteList({ routes, names, canEdit }: { routes: RouteLine[]; names: RoutingNames; canEdit: boolean }) {
  const [busy, start] = useTransition()
  const run = (work: () => Promise<Result<unknown>>) => start(async () => tellProblem(await work()))
  const present = routes.map((route) => route.key)
  const [wished, setWished] = useState<string[]>()
  const order = wished && wished.length === present.length && wished.every((key) => present.includes(key)) ? wished : present
  const isMoved = order.some((key, index) => key !== present[index])
  const move = (key: string, to: number) => {
    const from = order.indexOf(key)
    if (to >= 0 && to < order.length && to !== from) setWished(arrayMove(order, from, to))
  }
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }))
  const dropped = ({ active, over }: DragEndEvent) => { if (over) move(String(active.id), order.indexOf(String(over.id))) }
  return (
    <>
      {isMoved && <OrderBar order={order} busy={busy} use={() => run(async () => {
        const result = await orderRoutes(order)
        if ('value' in result) setWished(undefined)
        return result
      })} leave={() => setWished(undefined)} />}
      <DndContext id="routes" sensors={sensors} collisionDetection={closestCenter} onDragEnd={dropped}>
        <SortableContext items={order} strategy={verticalListSortingStrategy}>
          <ol style={{ listStyle: 'none', margin: 0, padding: 0, display: 'grid', gap: 10, opacity: busy ? 0.7 : 1 }}>
            {order.map((key, index) => {
              const route = routes.find((each) => each.key === key)!
              return (
                <RouteCard key={key} route={route} place={index + 1} wasAt={present.indexOf(key) + 1} names={names} canEdit={canEdit} run={run} move={(by) => move(key, index + by)}
                  menu={canEdit && <RouteMenu route={route} isFirst={index === 0} isLast={index === order.length - 1} run={run} move={(by) => move(key, index + by)} />} />
              )
            })}
          </ol>
        </SortableContext>
      </DndContext>
    </>
  )
}

/** What another order would change, before it counts. */
function OrderBar({ order, busy, use, leave }: { order: string[]; busy: boolean; use: () => void; leave: () => void }) {
  const [said, setSaid] = useState('Looking who would hear of what…')
  const key = order.join(' ')
  useEffect(() => {
    let isCurrent = true
    void previewOrder(key.split(' ')).then((result) => { if (isCurrent) setSaid('error' in result ? result.error : result.value) })
    return () => { isCurrent = false }
  }, [key])
  useHotkeys([['Enter', use], ['Escape', leave]])
  return (
    <div className="card pad apart" role="status" style={{ marginBottom: 10, borderColor: 'var(--action)', position: 'sticky', top: 6, zIndex: 2 }}>
      <span className="small"><b>Another order.</b> {said}</span>
      <span className="row" style={{ flexWrap: 'nowrap' }}><Button loading={busy} onClick={use}>Use this order</Button><Button variant="subtle" onClick={leave}>Leave it</Button></span>
    </div>
  )
}

function RouteCard({ route, place, wasAt, names, canEdit, run, move, menu }: { route: RouteLine; place: number; wasAt: number; names: RoutingNames; canEdit: boolean; run: Run; move: (by: 1 | -1) => void; menu: React.ReactNode }) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({ id: route.key, disabled: !canEdit })
  return (
    <li ref={setNodeRef} className="card" data-route={route.key} onKeyDown={(event) => {
      if (!canEdit || !event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
      event.preventDefault()
      move(event.key === 'ArrowUp' ? -1 : 1)
    }} style={{
      display: 'grid', gridTemplateColumns: '34px minmax(0, 1fr) auto', gap: 4, padding: '14px 14px 12px 8px', transition, ...(transform ? { transform: `translate3d(0, ${transform.y}px, 0)` } : {}), ...(isDragging ? { zIndex: 1, boxShadow: '0 4px 14px rgb(0 0 0 / 18%)' } : {}), ...(place === wasAt ? {} : { borderColor: 'var(--action)' })
    }}>
      {canEdit
        ? <button type="button" ref={setActivatorNodeRef} {...listeners} {...attributes} className="grip" aria-label={`Move route ${place}: drag it, or Alt with an arrow key`}><IconGripVertical size={14} aria-hidden /><b>{place}</b></button>
        : <b className="quiet" style={{ lineHeight: 1.9, paddingLeft: 14 }}>{place}</b>}
      <div style={{ fontSize: 15, lineHeight: 1.9 }}><RouteSentence route={route} names={names} canEdit={canEdit} run={run} /></div>
      <div style={{ textAlign: 'right', whiteSpace: 'nowrap' }}>
        <div className="quiet small" style={{ lineHeight: 2.2 }}>{place === wasAt ? `${route.checks} ${route.checks === 1 ? 'check' : 'checks'}` : `was ${wasAt}`}</div>
        {menu}
      </div>
    </li>
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
const TURNS = [{ field: 'urgent', value: true, text: 'Mark its messages as urgent' }, { field: 'goOn', value: true, text: 'Ask the routes below too' }, { field: 'recovery', value: 'nobody', text: 'Keep the end to itself' }, { field: 'notTwiceIn', value: '6h', text: 'Never tell twice in 6 h' }]

function RouteMenu({ route, isFirst, isLast, run, move }: { route: RouteLine; isFirst: boolean; isLast: boolean; run: Run; move: (by: 1 | -1) => void }) {
  const steps = route.document.then as Record<string, unknown>[]
  const withSteps = (then: unknown[]) => run(() => saveRouting('route', route.key, { ...route.document, then }, route.version))
  return (
    <Menu position="bottom-end">
      <Menu.Target><Button variant="subtle" size="compact-sm" aria-label={`Change route ${route.key}`}>Change</Button></Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => withSteps([...steps, { after: '10m', unless: 'taken', tell: 'everyone', by: ['mail'] }])}>Add a step</Menu.Item>
        {steps.length > 1 && <Menu.Item onClick={() => withSteps(steps.slice(0, -1))}>Take the last step away</Menu.Item>}
        {steps.at(-1)!.again === undefined && <Menu.Item onClick={() => withSteps([...steps.slice(0, -1), { ...steps.at(-1), again: '30m' }])}>Repeat the last step every 30 min</Menu.Item>}
        {steps[0]!.during === undefined && <Menu.Item onClick={() => withSteps([{ ...steps[0], during: 'working-hours' }, ...steps.slice(1)])}>Tell people in their working hours only</Menu.Item>}
        {TURNS.map(({ field, value, text }) => route.document[field] === undefined && <Menu.Item key={field} onClick={() => run(() => saveRouting('route', route.key, { ...route.document, [field]: value }, route.version))}>{text}</Menu.Item>)}
        {!isFirst && <Menu.Item onClick={() => move(-1)}>Move up</Menu.Item>}
        {!isLast && <Menu.Item onClick={() => move(1)}>Move down</Menu.Item>}
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
