/** A thing at a place on earth. */
export interface Placed { latitude: number; longitude: number }

/** Things that lie so near each other that a map shows them as one place, with the middle of where they lie. */
export interface Cluster<Thing extends Placed> extends Placed { things: Thing[] }

/** Gathers things that lie within some degrees of the first of a cluster, in their order. */
export function clusters<Thing extends Placed>(things: readonly Thing[], within: number): Cluster<Thing>[] {
  const found: Thing[][] = []
  for (const thing of things) {
    const near = found.find(([first]) => Math.hypot(first!.latitude - thing.latitude, eastOf(first!.longitude, thing.longitude)) <= within)
    if (near) near.push(thing)
    else found.push([thing])
  }
  const mean = (values: number[]) => values.reduce((sum, each) => sum + each, 0) / values.length
  return found.map((own) => ({ things: own, latitude: mean(own.map((each) => each.latitude)), longitude: own[0]!.longitude + mean(own.map((each) => eastOf(own[0]!.longitude, each.longitude))) }))
}

/** How many degrees east one meridian lies of another, the short way round. */
const eastOf = (from: number, to: number): number => ((((to - from + 180) % 360) + 360) % 360) - 180

export interface MapView { left: number; top: number; width: number; height: number }

/**
 * The part of a plate carrée map that shows some places with room around them, at one shape of page.
 * @param shape width over height
 * @returns in degrees: `left` is a longitude, `top` a latitude counted down from 90
 */
export function viewOf(places: readonly Placed[], shape: number, least = 40): MapView {
  if (places.length === 0) return { left: -180, top: 0, width: 360, height: 360 / shape }
  const [longitudes, latitudes] = [places.map((each) => each.longitude), places.map((each) => 90 - each.latitude)]
  const [west, east, north, south] = [Math.min(...longitudes), Math.max(...longitudes), Math.min(...latitudes), Math.max(...latitudes)]
  const width = Math.max(least, (east - west) * 1.3, (south - north) * 1.35 * shape)
  const height = width / shape
  return { left: (west + east) / 2 - width / 2, top: (north + south) / 2 - height / 2, width, height }
}
