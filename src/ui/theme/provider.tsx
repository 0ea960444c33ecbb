'use client'

import { MantineProvider } from '@mantine/core'
import { Notifications } from '@mantine/notifications'
import { ZoneProvider } from '../marks/zone'
import { theme } from './theme'

/** Theme, notices and the workspace's zone for everything below. */
export function AppProvider({ scheme, zone, nonce, children }: { scheme: 'light' | 'dark' | 'auto'; zone: string; nonce: string; children: React.ReactNode }) {
  return (
    <MantineProvider theme={theme} defaultColorScheme={scheme} getStyleNonce={() => nonce}>
      <Notifications position="bottom-left" />
      <ZoneProvider value={zone}>{children}</ZoneProvider>
    </MantineProvider>
  )
}
