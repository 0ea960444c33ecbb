import '@fontsource/atkinson-hyperlegible-next/400.css'
import '@fontsource/atkinson-hyperlegible-next/600.css'
import '@fontsource/atkinson-hyperlegible-next/700.css'
import '@fontsource/atkinson-hyperlegible-mono/400.css'
import '@mantine/core/styles.css'
import '@mantine/notifications/styles.css'
import '@mantine/spotlight/styles.css'
import '@/ui/theme/theme.css'
import { ColorSchemeScript, MantineProvider, mantineHtmlProps } from '@mantine/core'
import { Notifications } from '@mantine/notifications'
import type { Metadata, Viewport } from 'next'
import { headers } from 'next/headers'
import { theme } from '@/ui/theme/theme'
import { RibbonPatterns } from '@/ui/ribbon/ribbon'
import { ZoneProvider } from '@/ui/marks/zone'
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
        <MantineProvider theme={theme} defaultColorScheme={scheme} getStyleNonce={() => nonce ?? ''}>
          <Notifications position="bottom-left" />
          <RibbonPatterns />
          <ZoneProvider value={zone}>{children}</ZoneProvider>
        </MantineProvider>
      </body>
    </html>
  )
}
