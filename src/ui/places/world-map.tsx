'use client'

const [WIDTH, HEIGHT] = [720, 360]

export interface Dot { key: string; name: string; latitude: number; longitude: number; trouble: boolean; chosen?: boolean }

/** The world with a dot for each location. With `pick` a press says where on earth. */
export function WorldMap({ land, dots, pick }: { land: string; dots: Dot[]; pick?: (latitude: number, longitude: number) => void }) {
  const x = (longitude: number) => ((longitude + 180) / 360) * WIDTH
  const y = (latitude: number) => ((90 - latitude) / 180) * HEIGHT
  const press = (event: React.MouseEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect()
    const [across, down] = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height]
    pick?.(Math.round((90 - (down * 150 + 6)) * 100) / 100, Math.round((across * 360 - 180) * 100) / 100)
  }
  return (
    <svg viewBox={`0 12 ${WIDTH} 300`} role="img" aria-label={`A map with ${dots.length} locations`} style={{ width: '100%', display: 'block', cursor: pick ? 'crosshair' : undefined }} {...(pick ? { onClick: press } : {})}>
      <path d={land} fill="var(--chip)" stroke="var(--line)" strokeWidth={0.5} />
      {dots.map((dot) => (
        <g key={dot.key}><title>{dot.name}</title>
          {dot.trouble ? <rect x={x(dot.longitude) - 4} y={y(dot.latitude) - 4} width={8} height={8} rx={1} fill="var(--down)" /> : <circle cx={x(dot.longitude)} cy={y(dot.latitude)} r={dot.chosen ? 5 : 3} fill={dot.chosen ? 'var(--action)' : 'var(--healthy)'} />}
        </g>
      ))}
    </svg>
  )
}
