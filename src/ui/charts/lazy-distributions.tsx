'use client'

import dynamic from 'next/dynamic'

export const LazyDistributions = dynamic(() => import('./two-distributions'), { ssr: false, loading: () => <div style={{ height: 220 }} className="quiet">The chart is coming.</div> })
