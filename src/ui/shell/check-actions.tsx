'use client'

import { Button, Menu } from '@mantine/core'
import { useHotkeys } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useTransition } from 'react'
import { mute, pause, remove, runNow, startWatching } from '../../../app/actions/checks'
import type { CheckDocument } from '@/core/definitions/check'

/** What can be done with a check. Taking one away can be undone. */
export function CheckActions({ checkKey, paused, muted, document }: { checkKey: string; paused: boolean; muted: boolean; document: CheckDocument }) {
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
    notifications.show({
      message: <span className="row">{document.name} is no longer watched. <Button variant="subtle" onClick={() => void startWatching(document, true).then((restored) => say(restored, 'It is watched again.'))}>Undo</Button></span>, autoClose: 15_000
    })
    return undefined
  })
  return (
    <div className="row">
      <Button variant="default" onClick={run} loading={busy} disabled={paused}>Run now</Button>
      <Button variant="default" onClick={() => start(async () => say(await mute(checkKey, !muted), muted ? 'People are told again.' : 'It runs and is recorded; nobody is told.'))}>{muted ? 'Unmute' : 'Mute'}</Button>
      <Button variant="default" onClick={() => start(async () => say(await pause(checkKey, !paused), paused ? 'It runs again.' : 'It is not run until you let it.'))}>{paused ? 'Run again' : 'Pause'}</Button>
      <Button variant="default" component={Link} href={`/checks/${checkKey}/edit`}>Edit</Button>
      <Menu position="bottom-end"><Menu.Target><Button variant="default" aria-label="More">⋯</Button></Menu.Target>
        <Menu.Dropdown><Menu.Item component={Link} href={`/checks/new?copy=${checkKey}`}>Copy</Menu.Item><Menu.Item color="red" onClick={takeAway}>Stop watching it</Menu.Item></Menu.Dropdown></Menu>
    </div>
  )
}
