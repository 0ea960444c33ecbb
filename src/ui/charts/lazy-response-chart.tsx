'use client'

import dynamic from 'next/dynamic'

/** The chart comes after the page: what it needs is large, and everything else can be read without it. */
export const LazyResponseChart = dynamic(() => import('./response-chart'), { ssr: false, loading: () => <div style={{ height: 190 }} className="quiet">The chart is coming.</div> })
