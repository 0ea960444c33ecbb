'use client'

import { Button } from '@mantine/core'
import Link from 'next/link'

/** A button that leads somewhere, for pages made on the server. */
export function LinkButton({ href, quiet = false, large = false, children }: { href: string; quiet?: boolean; large?: boolean; children: React.ReactNode }) {
  return <Button component={Link} href={href} variant={quiet ? 'default' : 'filled'} size={large ? 'sm' : 'xs'}>{children}</Button>
}
