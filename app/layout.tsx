import '@fontsource/atkinson-hyperlegible-next/400.css'
import '@fontsource/atkinson-hyperlegible-next/600.css'
import '@fontsource/atkinson-hyperlegible-next/700.css'
import '@fontsource/atkinson-hyperlegible-mono/400.css'
import '@mantine/core/styles.css'
import '@mantine/notifications/styles.css'
import '@mantine/spotlight/styles.css'
import '@/ui/theme/theme.css'
import { ColorSchemeScript, mantineHtmlProps } from '@mantine/core'
import type { Metadata, Viewport } from 'next'
import { headers } from 'next/headers'
import { AppProvider } from '@/ui/theme/provider'
import { RibbonPatterns } from '@/ui/ribbon/ribbon'
import { personOfRequest, settings } from './server/session'

export const metadata: Metadata = { title: { default: 'Hemeron', template: '%s · Hemeron' }, icons: { icon: '/icon.svg' } }
export const viewport: Viewport = { width: 'device-width', initialScale: 1 }
export const dynamic = 'force-dynamic'

export default async function Layout({ children }: { children: React.ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined
  const person = await personOfRequest()
  const { zone, theme: preferred } = await settings()
  const scheme = person && person.theme !== 'auto' ? person.theme : preferred
  return (
    <html lang="en" {...mantineHtmlProps}>
      <head><ColorSchemeScript nonce={nonce} defaultColorScheme={scheme} /></head>
      <body>
        <RibbonPatterns />
        <AppProvider scheme={scheme} zone={zone} nonce={nonce ?? ''}>{children}</AppProvider>
      </body>
    </html>
  )
}
