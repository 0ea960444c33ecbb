'use client'

import { useHotkeys } from '@mantine/hooks'
import { Button } from '@mantine/core'
import { notifications } from '@mantine/notifications'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useTransition } from 'react'
import { tryAgainFrom } from '../../../app/actions/observations'

/** Arrow keys go to what stands beside an observation in time and place; r tries again from the same location. */
export function Neighbours({ check, location, earlier, later, above, below, curl }: { check: string; location: string; earlier?: string | undefined; later?: string | undefined; above?: string | undefined; below?: string | undefined; curl?: string | undefined }) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const go = (href: string | undefined) => () => { if (href) router.push(href) }
  const again = () => start(async () => {
    const result = await tryAgainFrom(check, location)
    if ('error' in result) notifications.show({ message: result.error, color: 'red' })
    else router.push(result.value)
  })
  useHotkeys([['ArrowLeft', go(earlier)], ['ArrowRight', go(later)], ['ArrowUp', go(above)], ['ArrowDown', go(below)], ['r', again]])
  const link = (href: string | undefined, text: string, key: string) => (href ? <Button variant="default" component={Link} href={href} aria-label={`${text}, ${key}`}>{text} <span className="quiet" style={{ marginLeft: 6 }} aria-hidden>{key}</span></Button> : <Button variant="default" disabled>{text}</Button>)
  return (
    <span className="row">
      {link(earlier, 'Earlier', '←')}{link(later, 'Later', '→')}{link(above, 'Place before', '↑')}{link(below, 'Next place', '↓')}
      <Button onClick={again} loading={busy}>Try again from here</Button>
      {curl && <Button variant="default" onClick={() => { void navigator.clipboard?.writeText(curl); notifications.show({ message: 'The command is copied. It asks the same server; what was cut out has to be filled in.' }) }}>Copy as curl</Button>}
    </span>
  )
}
