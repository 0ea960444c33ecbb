'use client'

import { Button } from '@mantine/core'

/** Prints the page, or saves it as PDF: the browser offers both. */
export const PrintButton = () => <Button onClick={() => window.print()}>Print or save as PDF</Button>
