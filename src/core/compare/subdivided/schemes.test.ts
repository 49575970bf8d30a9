/** Whether a mesh was refined smoothly or without moving a point, and where its cage stands, against a truth that is known. */
import { describe, expect, test } from 'vitest'
import { ballOf, cubeOf, gridOf, sceneOf, tubeOf } from '../../../../tests/solids.ts'
import { howMany } from '../../../../tests/how-many.ts'
import { renumbered } from '../../../../tests/arranged.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { rotationMatrix } from '../../formats/fbx/transform-chain.ts'
import { edgesOf } from '../../mesh/relations/adjacency.ts'
import { subdivideMesh } from '../../mesh/subdividing/subdivide-mesh.ts'
import { type Mesh } from '../../scene/mesh.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'

/** Creases that never wear off on every edge and point: the rule for smooth ones then moves nothing. */
function refinedLinearly(mesh: Mesh, levels: number): Mesh {
  const { edgeCount, edgePoints } = edgesOf(mesh)
  const count = mesh.points.length / 3
  const creases = {
    edgePoints: Uint32Array.from(edgePoints.subarray(0, 2 * edgeCount)),
    edgeSharpness: new Float64Array(edgeCount).fill(10),
    cornerPoints: Uint32Array.from({ length: count }, (_point, at) => at),
    cornerSharpness: new Float64Array(count).fill(10),
  }
  const refined = subdivideMesh({ ...mesh, creases }, { levels, uvMode: 'all', sharpCorners: true })
  return { ...refined, creases: null }
}
const refinedSmoothly = (mesh: Mesh, levels: number): Mesh =>
  subdivideMesh(mesh, { levels, uvMode: 'all', sharpCorners: false })

const bare = (mesh: Mesh): Mesh => ({ ...mesh, uvSets: [] })
const stretched = (mesh: Mesh, x: number, y: number, z: number): Mesh => ({
  ...mesh,
  points: mesh.points.map((value, at) => value * [x, y, z][at % 3]!),
})
/** A cube and a ball of few polygons keep their shape when they are refined, but not their size. */
const SHAPES: readonly (readonly [string, Mesh])[] = [
  ['cube', bare(cubeOf())],
  ['cube with UVs', cubeOf()],
  ['box', bare(stretched(cubeOf(), 1.7, 0.6, 0.3))],
  ['ball', bare(ballOf(8, 5, 1))],
  ['tube', tubeOf(4, 6, 0.5, 2)],
  ['cloth', bare(gridOf(5, 4, {}, (x, z) => Math.sin(x * 0.7) * 0.4 + Math.cos(z * 0.9) * 0.3))],
]

const scaled = (factor: number): Matrix => [factor, 0, 0, 0, 0, factor, 0, 0, 0, 0, factor, 0, 0, 0, 0, 1]
const WAYS: readonly (readonly [string, (chance: () => number) => Matrix])[] = [
  ['as it stood', () => scaled(1)],
  ['a hundredfold', () => scaled(100)],
  [
    'sized and turned',
    (chance) => multiplyMatrices(scaled(2.54), rotationMatrix([90, 0, 180 * chance()], 'xyz')),
  ],
  ['stretched', () => [1, 0, 0, 0, 0, 1.6, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]],
]

const cameAs = (
  master: Mesh,
  came: Mesh,
): { text: string; recognised: ReturnType<typeof recogniseReturn> } => {
  const recognised = recogniseReturn(sceneOf([master]), sceneOf([came]))
  const told = recognised.findings.find(({ code }) => code === 'return.subdivided')
  return { text: String(told?.parameters['scheme']), recognised }
}

describe.each(SHAPES)('%s', (_shape, mesh) => {
  describe.each(WAYS)('%s', (_way, wayOf) => {
    test.each([1, 2])('%i times', (levels) => {
      const chance = chanceOf(levels)
      const way = wayOf(chance)
      const moved = (of: Mesh): Mesh => renumbered({ ...of, points: transformPoints(of.points, way) }, levels)
      const linear = cameAs(mesh, moved(refinedLinearly(mesh, levels)))
      expect(linear.text).toBe('without smoothing')
      expect(cameAs(mesh, moved(refinedSmoothly(mesh, levels))).text).toBe('smoothly')
      // where nothing was smoothed each point of the cage stands where it came back
      const [{ match, returned }] = linear.recognised.matching.matched as [(typeof linear.recognised.matching.matched)[0]] // prettier-ignore
      expect(match.levels).toBe(levels)
      const wanted = transformPoints(mesh.points, way)
      const there = [...wanted.keys()].filter((at) => at % 3 === 0).map((at) => [...wanted.subarray(at, at + 3)].map((value) => value.toFixed(6)).join(' ')) // prettier-ignore
      for (let at = 0; at < returned.points.length; at += 3)
        expect(there).toContain([...returned.points.subarray(at, at + 3)].map((value) => (value + 0).toFixed(6)).join(' ')) // prettier-ignore
    })
  })
})

test.each(Array.from({ length: howMany(10, 300) }, (_case, seed) => seed))(
  'roughened by half a per cent, seed %i',
  (seed) => {
    // prettier-ignore
    const chance = chanceOf(seed * 13 + 1)
    const [, mesh] = SHAPES[seed % SHAPES.length]!
    const roughened = (of: Mesh): Mesh => ({ ...of, points: of.points.map((value) => value + 0.01 * (chance() - 0.5)) }) // prettier-ignore
    expect(cameAs(mesh, roughened(refinedLinearly(mesh, 1))).text).toBe('without smoothing')
    expect(cameAs(mesh, roughened(refinedSmoothly(mesh, 1))).text).toBe('smoothly')
  },
)

test('parts that were each turned on their own have their cages where they stand', () => {
  const chance = chanceOf(5)
  const parts = [bare(stretched(cubeOf({ name: 'crate' }), 1.7, 0.6, 0.3)), { ...cubeOf({ name: 'lid' }), points: cubeOf().points.map((value, at) => (at % 3 ? value : value + 6)) }] // prettier-ignore
  const turns = parts.map(() => rotationMatrix([180 * chance(), 80 * chance(), 180 * chance()], 'xyz'))
  const came = parts.map((part, at) => ({ ...refinedSmoothly(part, 1), points: transformPoints(refinedSmoothly(part, 1).points, turns[at]!) })) // prettier-ignore
  const { matching } = recogniseReturn(sceneOf(parts), sceneOf(came))
  for (const { match, returned, correspondence } of matching.matched) {
    const wanted = transformPoints(parts[match.masterNode]!.points, turns[match.masterNode]!)
    correspondence.pointToReturned.forEach((other, point) => {
      const away = [0, 1, 2].map((axis) => returned.points[3 * other + axis]! - wanted[3 * point + axis]!)
      expect(Math.hypot(...away)).toBeLessThan(1e-6)
    })
  }
})
