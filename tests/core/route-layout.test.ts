/** A route of any life fits its width; what is newest and what waits is always on it. */
import { describe, expect, test } from 'vitest'
import type { AssetDocument } from '../../src/contract/api.ts'
import { layRoute } from '../../src/web/features/asset/route-layout.ts'
import { chanceOf } from '../../src/core/base/math/chance.ts'

function anyLife(seed: number): AssetDocument {
  const chance = chanceOf(seed)
  const count = 1 + Math.floor(chance() ** 2 * 40)
  const versions = Array.from({ length: count }, (_version, at) => ({ id: `v${at + 1}`, number: at + 1 }))
  const trips = Array.from({ length: Math.floor(chance() * 30) }, (_trip, at) => ({
    id: `t${at + 1}`,
    number: at + 1,
    versionId: versions[Math.floor(chance() * count)]!.id,
    state: chance() < 0.06 ? 'back' : chance() < 0.06 ? 'out' : 'settled',
  }))
  return { versions, trips } as unknown as AssetDocument
}

describe('the route', () => {
  test.each([640, 900, 1030, 2400])('of any life fits %i pixels, but for what waits', (room) => {
    for (let seed = 1; seed <= 200; seed++) {
      const life = anyLife(seed)
      const { stops, loops, folds, width, end } = layRoute(life, room)
      const open = life.trips.filter(({ state }) => state !== 'settled')
      expect(stops.at(-1)).toMatchObject({ id: life.versions.at(-1)!.id, newest: true })
      for (const trip of open) expect(loops.map((loop) => loop.trip.id)).toContain(trip.id)
      // nothing is lost: what is not shown is counted
      const folded = folds.reduce((sum, { count }) => sum + count, 0)
      expect(stops.length + loops.length + folded).toBe(life.versions.length + life.trips.length)
      if (open.length <= 1 || (open.length === 2 && room >= 900))
        expect([seed, width <= Math.max(room, 640)]).toEqual([seed, true])
      // left to right, nothing over another
      for (const loop of loops) expect(loop.x1 - loop.x0).toBeGreaterThan(90)
      const xs = [...stops.map(({ x }) => x)].sort((a, b) => a - b)
      expect(stops.map(({ x }) => x)).toEqual(xs)
      for (const [at, loop] of loops.entries())
        if (at > 0) expect(loop.x0).toBeGreaterThanOrEqual(loops[at - 1]!.x1)
      expect(end).toBeGreaterThanOrEqual(Math.max(...xs, ...loops.map(({ x1 }) => x1)))
    }
  })
})
