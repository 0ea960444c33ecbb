'use client'

import { Button, TextInput } from '@mantine/core'
import { useRouter } from 'next/navigation'
import { useState, useTransition } from 'react'
import { makeService } from '../../../app/actions/services'

/** Adds a service by its name and stage; everything else is said on its page. */
export function NewService() {
  const router = useRouter()
  const [name, setName] = useState('')
  const [stage, setStage] = useState('production')
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const add = () => start(async () => {
    const result = await makeService(name, stage)
    if ('error' in result) setError(result.error)
    else router.push(`/services/${result.value}`)
  })
  return (
    <form className="row" style={{ alignItems: 'flex-end', marginTop: 12 }} onSubmit={(event) => { event.preventDefault(); add() }}>
      <TextInput size="xs" w={200} label="New service" placeholder="what the business calls it" value={name} onChange={(event) => setName(event.currentTarget.value)} />
      <TextInput size="xs" w={130} label="Stage" value={stage} onChange={(event) => setStage(event.currentTarget.value)} />
      <Button type="submit" loading={busy} disabled={name.trim() === ''}>Add it</Button>
      {error && <div className="notice trouble" role="alert" style={{ width: '100%' }}>{error}</div>}
    </form>
  )
}
