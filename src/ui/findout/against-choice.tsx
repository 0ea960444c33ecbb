'use client'

import { Menu } from '@mantine/core'
import Link from 'next/link'
import { withPart, type Against, type Question } from '@/core/findout/question'
import { writeQuestion } from '@/core/findout/question-address'
import { useZone } from '../marks/zone'

const CHOICES: [Against | undefined, string, string][] = [
  [undefined, 'the time around it', 'What lies before and after it'], ['usual', 'what is usual', 'The same hours of the 14 days before; of longer stretches, the weeks before'], ['passing', 'its passing tries', 'Within the stretch: what failed beside what did not']
]

/** What a stretch is compared with. */
export function AgainstChoice({ question }: { question: Question }) {
  const zone = useZone()
  const chosen = CHOICES.find(([against]) => against === question.against)!
  return (
    <span className="quiet small">compared with <Menu position="bottom-end" width={300}>
      <Menu.Target><button type="button" className="plain">{chosen[1]}</button></Menu.Target>
      <Menu.Dropdown>{CHOICES.map(([against, title, note]) => <Menu.Item key={title} component={Link} href={`/find-out?${writeQuestion(withPart(question, 'against', against), zone)}`} scroll={false} aria-current={against === question.against || undefined}>{title[0]!.toUpperCase()}{title.slice(1)}<div className="quiet small">{note}</div></Menu.Item>)}</Menu.Dropdown>
    </Menu></span>
  )
}
