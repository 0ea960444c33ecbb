'use client'

import dynamic from 'next/dynamic'

export const LazyPhasesChart = dynamic(() => import('./phases-chart'), { ssr: false, loading: () => <div style={{ height: 200 }} className="quiet">The chart is coming.</div> })
