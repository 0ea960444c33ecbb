import fc from 'fast-check'
import { clusters, viewOf } from './clusters'

const at = (name: string, latitude: number, longitude: number) => ({ name, latitude, longitude })

describe('places on a map', () => {
  it('are one where they lie together', () => {
    const found = clusters([at('a', -33, -71), at('b', 60, 5), at('c', -33.4, -71.6), at('d', -33.05, -71.62)], 2)
    expect(found.map((each) => each.things.map((thing) => thing.name).join(''))).toEqual(['acd', 'b'])
    expect(found[0]!.latitude).toBeCloseTo(-33.15, 2)
  })
  it('are one across the line where east meets west', () => {
    const [one, ...more] = clusters([at('a', 0, 179.5), at('b', 0, -179.5)], 2)
    expect([more.length, one!.longitude]).toEqual([0, 180])
  })
  it('are all in view, with room around them, at the shape of the page', () => {
    const place = fc.record({ latitude: fc.double({ min: -80, max: 80, noNaN: true }), longitude: fc.double({ min: -180, max: 180, noNaN: true }) })
    fc.assert(fc.property(fc.array(place, { minLength: 1, maxLength: 12 }), fc.double({ min: 1, max: 4, noNaN: true }), (places, shape) => {
      const view = viewOf(places, shape)
      expect(view.width / view.height).toBeCloseTo(shape, 6)
      for (const { latitude, longitude } of places) {
        expect(longitude - view.left).toBeGreaterThanOrEqual(view.width * 0.05)
        expect(view.left + view.width - longitude).toBeGreaterThanOrEqual(view.width * 0.05)
        expect(90 - latitude - view.top).toBeGreaterThanOrEqual(view.height * 0.05)
        expect(view.top + view.height - 90 + latitude).toBeGreaterThanOrEqual(view.height * 0.05)
      }
    }))
  })
  it('of none are the whole world', () => expect(viewOf([], 2)).toEqual({ left: -180, top: 0, width: 360, height: 180 }))
})
