'use client'

import { Button } from '@mantine/core'

/** Prints the page. */
export const PrintButton = () => <Button onClick={() => window.print()}>Print</Button>
