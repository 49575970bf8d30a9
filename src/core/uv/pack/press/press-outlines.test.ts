/**
 * Against the best known packings of equal circles in a square (Markót & Csendes 2005 proved them up to 30; radii from memory),
 * and against its own word over random shapes.
 */
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { howMany, someOf } from '../../../../../tests/how-many.ts'
import { chanceOf } from '../../../base/math/chance.ts'
import { segmentDistance } from '../../island-borders.ts'
import type { Outline } from '../outline.ts'
import { packOutlines } from '../pack-outlines.ts'
import { distanceField, liesWithin, READ, readBySides } from './distance-field.ts'
import { pressOutlines, type Pressed } from './press-outlines.ts'

const outline = (...loops: (readonly (readonly [number, number])[])[]): Outline => ({
  loops: loops.map((loop) => Float64Array.from(loop.flat())),
})
const round = (radius: number, corners = 96, u = 0, v = 0): [number, number][] =>
  Array.from({ length: corners }, (_, at): [number, number] => {
    const angle = (2 * Math.PI * at) / corners
    return [u + radius * Math.cos(angle), v + radius * Math.sin(angle)]
  })
const box = (wide: number, tall: number, u = 0, v = 0): [number, number][] => [
  [u, v],
  [u + wide, v],
  [u + wide, v + tall],
  [u, v + tall],
]
const star = (seed: number, corners: number): [number, number][] => {
  const chance = chanceOf(seed)
  return Array.from({ length: corners }, (_, at): [number, number] => {
    const angle = (2 * Math.PI * at) / corners
    const out = 0.3 + chance()
    return [out * Math.cos(angle) * 0.2, out * Math.sin(angle)]
  })
}

const laid = (outlines: readonly Outline[], { placements, scale }: Pressed): Outline[] =>
  outlines.map(({ loops }, at) => {
    const { angle, shiftU, shiftV } = placements[at]!
    const [c, s] = [Math.cos(angle) * scale, Math.sin(angle) * scale]
    return {
      loops: loops.map((loop) =>
        loop.map((_, k) =>
          k % 2 === 0 ? c * loop[k]! - s * loop[k + 1]! + shiftU : s * loop[k - 1]! + c * loop[k]! + shiftV,
        ),
      ),
    }
  })

const sidesOf = ({ loops }: Outline): Float64Array[] =>
  loops.flatMap((loop) =>
    Array.from({ length: loop.length / 2 }, (_, at) => {
      const next = (2 * at + 2) % loop.length
      return Float64Array.of(loop[2 * at]!, loop[2 * at + 1]!, loop[next]!, loop[next + 1]!)
    }),
  )

/** Least distance of two borders, and whether a corner of one lies within the other. */
function apart(a: Outline, b: Outline): { distance: number; isWithin: boolean } {
  let distance = Infinity
  for (const one of sidesOf(a))
    for (const other of sidesOf(b))
      distance = Math.min(distance, segmentDistance(Float64Array.of(...one, ...other), 0, 1))
  const corner = (of: Outline): [number, number] => [of.loops[0]![0]!, of.loops[0]![1]!]
  return { distance, isWithin: liesWithin(a.loops, ...corner(b)) || liesWithin(b.loops, ...corner(a)) }
}

describe('a field of distances', () => {
  const thin = outline([
    [0, 0],
    [0.4, 0.001],
    [0.4, 0.1],
    [0.39, 0.1],
    [0.39, 0.003],
    [0, 0.002],
  ])
  const ring = outline(round(0.2), round(0.1).reverse())
  const shapes = { thin, ring, ringOneWay: outline(round(0.2), round(0.1)), star: outline(star(4, 11)) }
  test.each(Object.entries(shapes))(
    'is exact beside the border by its sides, and near it elsewhere: %s',
    (_, shape) => {
      const field = distanceField(shape, 1 / 512, 0.01)
      const sides = sidesOf(shape)
      const chance = chanceOf(7)
      let near = 0
      for (let k = 0; k < 3000; k++) {
        const fx = chance() * (field.width - 1.001)
        const fy = chance() * (field.height - 1.001)
        const [x, y] = [field.low[0] + fx * field.cell, field.low[1] + fy * field.cell]
        const far = sides.reduce(
          (least, side) => Math.min(least, segmentDistance(Float64Array.of(...side, x, y, x, y), 0, 1)),
          Infinity,
        )
        const expected = liesWithin(shape.loops, x, y) ? -far : far
        const value = field.values[Math.round(fy) * field.width + Math.round(fx)]!
        expect(Math.abs(value - expected)).toBeLessThan(field.cell * 0.75 + 1e-9)
        if (far > field.cell || far < 1e-9) continue
        near++
        readBySides(field, Math.floor(fy) * field.width + Math.floor(fx), x, y)
        expect(READ[0]).toBeCloseTo(expected, 9)
        expect(Math.hypot(READ[1]!, READ[2]!)).toBeCloseTo(1, 9)
        // out is where it grows
        const [u, v] = [x + READ[1]! * 1e-7, y + READ[2]! * 1e-7]
        const beyond = sides.reduce(
          (least, side) => Math.min(least, segmentDistance(Float64Array.of(...side, u, v, u, v), 0, 1)),
          Infinity,
        )
        expect((liesWithin(shape.loops, u, v) ? -beyond : beyond) - expected).toBeGreaterThan(0.5e-7)
      }
      expect(near).toBeGreaterThan(30)
    },
  )
})

describe('equal circles in a square', () => {
  /** Count, the best radius, and how much of it is found: five end in a corner of a way that shaking does not leave. */
  const best = [
    [2, 0.292893, 0.99],
    [3, 0.254333, 0.99],
    [5, 0.207107, 0.94],
    [6, 0.187681, 0.99],
    [7, 0.174458, 0.99],
    [10, 0.148204, 0.99],
    [13, 0.133994, 0.97],
  ] as const
  test.each(someOf(best, 0, 2, 4))(
    '%s of them are as large as they can be, or nearly',
    (count, radius, share) => {
      const outlines = Array.from({ length: count }, () => outline(round(1)))
      const { scale } = packOutlines(outlines, { padding: 0, turn: 'quarter', scale: null, patience: 2 })
      // 96 corners reach a circle's border and are a little smaller between them
      expect(scale).toBeLessThan(radius * 1.0012)
      expect(scale).toBeGreaterThan(radius * share)
    },
  )
})

describe('what is pressed', () => {
  const start = [
    { tile: 0, angle: 0, shiftU: 0.1, shiftV: 0.1 },
    { tile: 0, angle: 0, shiftU: 0.1, shiftV: 0.5 },
  ]
  const two = [outline(box(1, 0.5)), outline(box(1, 0.5))]
  const options = { padding: 0.01, turn: 'free', mostScale: 10, mostWork: 1e6, locked: [] } as const
  test('comes as close as it may, and no closer', () => {
    const pressed = pressOutlines(two, start, 0.2, options)!
    // two halves of the tile, but for the padding between and half of it around
    expect(pressed.scale).toBeGreaterThan(0.97)
    expect(pressed.scale).toBeLessThanOrEqual(0.98 + 1e-9)
    const [a, b] = laid(two, pressed)
    expect(apart(a!, b!).distance).toBeGreaterThanOrEqual(0.01)
  })
  test('is not larger than asked for, and left where nothing is won', () => {
    expect(pressOutlines(two, start, 0.2, { ...options, mostScale: 0.25 })!.scale).toBeCloseTo(0.25, 2)
    expect(pressOutlines(two, start, 0.2, { ...options, mostScale: 0.2 })).toBeNull()
    expect(pressOutlines([two[0]!], [start[0]!], 0.2, options)).toBeNull()
  })
  test('keeps straight what is a box, and as it was turned what may not turn', () => {
    for (const turn of ['none', 'free'] as const) {
      const { placements } = pressOutlines(two, start, 0.2, { ...options, turn })!
      for (const { angle } of placements) expect(Math.abs(Math.sin(2 * angle))).toBeLessThan(1e-9)
    }
    const shapes = [outline(star(1, 7)), outline(star(2, 9))]
    const { placements } = pressOutlines(shapes, start, 0.1, { ...options, turn: 'none' })!
    expect(placements.map(({ angle }) => angle)).toEqual([0, 0])
  })
  test('keeps off what stays, in its own size', () => {
    const wall = outline(box(0.9, 0.04, 0.05, 0.48))
    const pressed = pressOutlines(two, [start[0]!, { ...start[0]!, shiftV: 0.7 }], 0.2, {
      ...options,
      locked: [wall],
    })!
    expect(pressed.scale).toBeGreaterThan(0.8)
    for (const one of laid(two, pressed)) {
      const { distance, isWithin } = apart(one, wall)
      expect(distance).toBeGreaterThanOrEqual(0.01)
      expect(isWithin).toBe(false)
    }
  })
  test('may lie in a hole of another', () => {
    const ring = outline(round(1), round(0.8).reverse())
    const small = outline(round(0.4, 24))
    const middle = { tile: 0, angle: 0, shiftU: 0.5, shiftV: 0.5 }
    const pressed = pressOutlines([ring, small], [middle, middle], 0.3, options)!
    expect(pressed.scale).toBeGreaterThan(0.49)
    const [a, b] = laid([ring, small], pressed)
    const { distance, isWithin } = apart(a!, b!)
    expect(distance).toBeGreaterThanOrEqual(0.01)
    expect(isWithin).toBe(false)
  })
  test('lies apart whatever its shape, thin ones and tiny ones as well', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e6 }), fc.integer({ min: 2, max: 12 }), (seed, count) => {
        const chance = chanceOf(seed)
        const outlines = Array.from({ length: count }, (_, at) => {
          const kind = chance()
          if (kind < 0.3) return outline(box(0.2 + chance() * 2, 0.002 + chance() * 0.05))
          if (kind < 0.4) return outline(box(1e-4, 1e-4))
          return outline(star(seed + at, 3 + Math.floor(chance() * 12)))
        })
        // in cells of their own, each with room about it
        const side = Math.ceil(Math.sqrt(count))
        const placements = outlines.map((_, at) => ({
          tile: 0,
          angle: 0,
          shiftU: ((at % side) + 0.45) / side,
          shiftV: (Math.floor(at / side) + 0.45) / side,
        }))
        const padding = chance() < 0.2 ? 0 : chance() * 0.01
        const pressed = pressOutlines(outlines, placements, 0.18 / side, {
          ...options,
          padding,
          mostWork: 3e5,
          turn: (['none', 'quarter', 'free'] as const)[seed % 3]!,
        })
        if (!pressed) return
        expect(pressed.scale).toBeGreaterThan(0.18 / side)
        const all = laid(outlines, pressed)
        for (const { loops } of all)
          for (const value of loops[0]!) {
            expect(value).toBeGreaterThanOrEqual(padding / 2 - 1e-9)
            expect(value).toBeLessThanOrEqual(1 - padding / 2 + 1e-9)
          }
        all.forEach((one, at) => {
          for (const other of all.slice(at + 1)) {
            const { distance, isWithin } = apart(one, other)
            expect(distance).toBeGreaterThan(0)
            expect(distance).toBeGreaterThanOrEqual(padding - 1e-9)
            expect(isWithin).toBe(false)
          }
        })
      }),
      { numRuns: howMany(10, 300) },
    )
  })
  test('is the same each time', () => {
    const shapes = Array.from({ length: 9 }, (_, at) => outline(star(at, 5 + at)))
    const pack = { padding: 0.004, turn: 'free', scale: null } as const
    expect(packOutlines(shapes, pack)).toEqual(packOutlines(shapes, pack))
  })
})
