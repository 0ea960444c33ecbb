'use client'

import { Badge, Button, createTheme, Modal, Notification, Popover, Tooltip, type MantineColorsTuple } from '@mantine/core'

/** The action colour, #17566b, in ten steps from nearly paper to nearly ink. */
const action: MantineColorsTuple = ['#eaf3f5', '#d3e5e9', '#a6cbd4', '#77b0be', '#4f97a9', '#2f7f93', '#17566b', '#134a5c', '#0f3d4c', '#0a2e3a']

/** Mantine, themed once for the whole application. */
export const theme = createTheme({
  primaryColor: 'action',
  primaryShade: { light: 6, dark: 3 },
  autoContrast: true,
  luminanceThreshold: 0.35,
  colors: { action },
  fontFamily: '"Atkinson Hyperlegible Next", sans-serif',
  fontFamilyMonospace: '"Atkinson Hyperlegible Mono", monospace',
  headings: { fontFamily: '"Atkinson Hyperlegible Next", sans-serif', fontWeight: '700', sizes: { h1: { fontSize: '21px' } } },
  fontSizes: { xs: '12px', sm: '13px', md: '14px', lg: '16px', xl: '21px' },
  defaultRadius: 6,
  components: {
    Button: Button.extend({ defaultProps: { size: 'xs', radius: 6, variant: 'filled' }, styles: { root: { fontSize: 13, height: 30, fontWeight: 600 } } }),
    Badge: Badge.extend({ defaultProps: { variant: 'default', radius: 4 }, styles: { root: { textTransform: 'none', fontWeight: 400 } } }),
    Popover: Popover.extend({ defaultProps: { shadow: 'md', radius: 8 } }),
    Tooltip: Tooltip.extend({ defaultProps: { openDelay: 300 } }),
    Modal: Modal.extend({ defaultProps: { centered: true, radius: 10, closeButtonProps: { 'aria-label': 'Close' } } }),
    Notification: Notification.extend({ defaultProps: { closeButtonProps: { 'aria-label': 'Close the notice' } } })
  }
})
