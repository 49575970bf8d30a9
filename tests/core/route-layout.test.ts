/** A route of any life fits its width; what is newest and what waits is always on it. */
import { describe, expect, test } from 'vitest'
import type { AssetDocument } from '../../src/contract/api.ts'
import { layRoute } from '../../src/web/features/asset/route-layout.ts'
import { chanceOf } from '../../src/core/base/math/chance.ts'

function anyLife(seed: number): AssetDocument {
  const chance = chanceOf(seed)
  const count = 1 + Math.floor(chance() ** 2 * 40)
  const versions = Array.from({ length: count }, (_version, at) => ({
    id: `v${at + 1}`,
    number: at + 1,
    createdAt: String(95 + 8 * at),
  }))
  const trips = Array.from({ length: Math.floor(chance() * 30) }, (_trip, at) => ({
    id: `t${at + 1}`,
    number: at + 1,
    versionId: versions[Math.floor(chance() * count)]!.id,
    state: chance() < 0.06 ? 'back' : chance() < 0.06 ? 'out' : chance() < 0.2 ? 'closed' : 'settled',
    sentAt: String(100 + 10 * at),
    resultVersionId: chance() < 0.5 ? null : versions[Math.floor(chance() * count)]!.id,
  }))
  return { versions, trips } as unknown as AssetDocument
}

describe('the route', () => {
  test.each([640, 900, 1030, 2400])('of any life fits %i pixels, but for what waits', (room) => {
    for (let seed = 1; seed <= 200; seed++) {
      const life = anyLife(seed)
      const { stops, loops, folds, width, end } = layRoute(life, room)
      const open = life.trips.filter(({ state }) => state === 'out' || state === 'back')
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
      for (const side of ['above', 'below'] as const) {
        const lane = loops.filter((loop) => loop.side === side)
        for (const [at, loop] of lane.entries())
          if (at > 0) expect(loop.x0).toBeGreaterThanOrEqual(lane[at - 1]!.x1)
      }
      // below runs only what was out while the one above it was
      for (const loop of loops.filter(({ side }) => side === 'below')) {
        const other = loops.find((above) => above.side === 'above' && above.x0 === loop.x0)!
        const made = life.versions.find(({ id }) => id === other.trip.resultVersionId)
        expect(!made || loop.trip.sentAt < made.createdAt).toBe(true)
        expect(other.trip.state).not.toBe('closed')
        expect(loop.trip.versionId).toBe(other.trip.versionId)
      }
      expect(end).toBeGreaterThanOrEqual(Math.max(...xs, ...loops.map(({ x1 }) => x1)))
    }
  })

  test('two trips at the same time run side by side, one after the other do not; versions say what they are made of', () => {
    const trip = (number: number, sentAt: string, resultVersionId: string | null) => ({
      id: `t${number}`, number, versionId: 'v1', versionNumber: 1, state: resultVersionId ? 'settled' : 'out', sentAt, resultVersionId,
    }) // prettier-ignore
    const life = (trips: unknown[]): AssetDocument =>
      ({ versions: [{ id: 'v1', number: 1, createdAt: '00' }, { id: 'v2', number: 2, createdAt: '30' }, { id: 'v3', number: 3, createdAt: '40' }], trips }) as unknown as AssetDocument // prettier-ignore
    const sidesOf = (trips: unknown[]) => layRoute(life(trips), 1030).loops.map(({ side }) => side)
    expect(sidesOf([trip(1, '10', 'v2'), trip(2, '20', 'v3')])).toEqual(['above', 'below'])
    // the first had become a version when the second left, or three are out at once
    expect(sidesOf([trip(1, '10', 'v2'), trip(2, '35', 'v3')])).toEqual(['above', 'above'])
    expect(sidesOf([trip(1, '10', null), trip(2, '20', null), trip(3, '25', null)])).toEqual(['above', 'below', 'above']) // prettier-ignore
    const { stops, parallel } = layRoute(life([trip(1, '10', 'v2'), trip(2, '20', 'v3')]), 1030)
    expect([parallel, stops.map(({ madeOf }) => madeOf)]).toEqual([true, ['', 'trip 1', 'trip 2 on 2']])
  })
})
