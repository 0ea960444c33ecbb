import { geoEquirectangular, geoPath } from 'd3-geo'
import { feature } from 'topojson-client'
import land from 'world-atlas/land-110m.json'

export const MAP = { width: 720, height: 360 }

/** The land of the earth as one SVG path, plate carrée: longitude and latitude are plain coordinates. */
export function landPath(): string {
  const projection = geoEquirectangular().fitSize([MAP.width, MAP.height], { type: 'Sphere' })
  return geoPath(projection)(feature(land as never, (land as never as { objects: { land: never } }).objects.land)) ?? ''
}
