'use client'

import { Button, Menu } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useTransition } from 'react'
import { halt, remove, resume, runNow } from '../../../app/actions/checks'
import { HaltForm } from './halt-form'
import { showUndo } from './undo-notice'

/** What can be done with a check. Taking one away can be undone. */
export function CheckActions({ checkKey, name, paused, muted }: { checkKey: string; name: string; paused: boolean; muted: boolean }) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const say = (result: { error: string } | { value: unknown }, done: string): void => {
    notifications.show('error' in result ? { message: result.error, color: 'red' } : { message: done })
  }
  const run = () => start(async () => say(await runNow(checkKey), 'It runs now at every location.'))
  useHotkeys([['r', run], ['e', () => router.push(`/checks/${checkKey}/edit`)]])
  const takeAway = () => start(async () => {
    const result = await remove(checkKey)
    if ('error' in result) return say(result, '')
    router.push('/checks')
    return showUndo(`${name} is no longer watched.`, result.value)
  })
  return (
    <div className="row">
      <Button variant="default" onClick={run} loading={busy} disabled={paused}>Run now</Button>
      {muted ? <Button variant="default" onClick={() => start(async () => say(await resume('mute', [checkKey]), 'People are told again.'))}>Unmute</Button>
        : <HaltForm name="Mute" explains="It runs and is recorded; nobody is told." act={async (wish) => say(await halt('mute', [checkKey], wish), 'It runs and is recorded; nobody is told.')} />}
      {paused ? <Button variant="default" onClick={() => start(async () => say(await resume('pause', [checkKey]), 'It runs again.'))}>Run again</Button>
        : <HaltForm name="Pause" explains="It is not run; the time counts neither as up nor as down." act={async (wish) => say(await halt('pause', [checkKey], wish), 'It is paused.')} />}
      <Button variant="default" component={Link} href={`/checks/${checkKey}/edit`}>Edit</Button>
      <Menu position="bottom-end"><Menu.Target><Button variant="default" aria-label="More">⋯</Button></Menu.Target>
        <Menu.Dropdown><Menu.Item component={Link} href={`/checks/new?copy=${checkKey}`}>Copy</Menu.Item><Menu.Item component={Link} href={`/checks/${checkKey}/history`}>History</Menu.Item><Menu.Item color="red" onClick={takeAway}>Stop watching it</Menu.Item></Menu.Dropdown></Menu>
    </div>
  )
}
