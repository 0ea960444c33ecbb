'use client'

import { createContext, useContext } from 'react'

const Zone = createContext('UTC')

/** The workspace's zone for everything below. */
export const ZoneProvider = Zone.Provider
export const useZone = () => useContext(Zone)
