import { notFound } from 'next/navigation'
import { HemeronError } from '@/core/problems'
import { BoardWall } from '@/ui/places/board-wall'
import { boardView } from '../../server/board-view'

export const metadata = { title: 'Board' }

/** A board on a wall: no sign-in, its link is the key. */
export default async function BoardPage({ params }: { params: Promise<{ name: string }> }) {
  const { name } = await params
  const view = await boardView(name, Date.now()).catch((error: unknown) => {
    if (error instanceof HemeronError && error.code === 'not-found') notFound()
    throw error
  })
  return <BoardWall name={name} first={view} />
}
