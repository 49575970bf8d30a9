/** Seams that are found go where few see them, and are alike on both sides of what is its own mirror image. */
import { describe, expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { createMeshFacts, type MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { findMirror } from '../../mesh/relations/find-mirror.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { renumberMesh } from '../../practice/standins/sculptor.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { cubeOf, gridOf, meshOf, type Point } from '../../../../tests/solids.ts'
import { layFaces } from '../islands/lay-faces.ts'
import { runStep } from '../../steps/run-steps.ts'
import { joints } from './chart-graph.ts'
import { edgeExposure } from './edge-exposure.ts'
import { seamCosts } from './find-charts.ts'
import { between } from './given-seams.ts'

const UP = [0, 1, 0] as const
/** The mean of a value over edges whose middle fulfils something. */
function meanWhere(
  facts: MeshFacts,
  values: Float64Array,
  is: (x: number, y: number, z: number) => boolean,
): number {
  const { edgeCount, edgePoints } = facts.edges()
  const points = facts.points()
  let [sum, count] = [0, 0]
  for (let edge = 0; edge < edgeCount; edge++) {
    const [a, b] = [3 * edgePoints[2 * edge]!, 3 * edgePoints[2 * edge + 1]!]
    const [x, y, z] = [0, 1, 2].map((axis) => (points[a + axis]! + points[b + axis]!) / 2) as [
      number,
      number,
      number,
    ]
    if (!is(x, y, z)) continue
    sum += values[edge]!
    count++
  }
  expect(count).toBeGreaterThan(0)
  return sum / count
}
/** A ball of rows by columns, poles along Y; each point moved by `shape`. */
function ball(
  rows: number,
  columns: number,
  shape = (x: number, y: number, z: number): Point => [x, y, z],
): Mesh {
  const points: Point[] = [shape(0, 1, 0)]
  for (let row = 1; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const [a, b] = [(Math.PI * row) / rows, (2 * Math.PI * column) / columns]
      points.push(shape(Math.sin(a) * Math.cos(b), Math.cos(a), Math.sin(a) * Math.sin(b)))
    }
  points.push(shape(0, -1, 0))
  const at = (row: number, column: number): number =>
    row === 0 ? 0 : row === rows ? points.length - 1 : 1 + (row - 1) * columns + (column % columns)
  const faces: number[][] = []
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++)
      faces.push([
        ...new Set([at(row, column), at(row, column + 1), at(row + 1, column + 1), at(row + 1, column)]),
      ])
  return meshOf(points, faces)
}

describe('how well an edge is seen', () => {
  test('a ball is seen from everywhere, less from below', () => {
    const facts = createMeshFacts(ball(16, 24))
    const evenly = edgeExposure(facts, null)
    for (const value of evenly) expect(value).toBeGreaterThan(0.97)
    const above = edgeExposure(facts, UP)
    expect(meanWhere(facts, above, (_x, y) => y > 0.5)).toBeGreaterThan(0.9)
    expect(meanWhere(facts, above, (_x, y) => y < -0.9)).toBeLessThan(0.6)
    // up is whatever the part says
    const turned = edgeExposure(facts, [0, -5, 0])
    expect(meanWhere(facts, turned, (_x, y) => y < -0.5)).toBeGreaterThan(0.9)
  })
  test('a flat sheet hides nothing of itself, whatever its size and however its edges lie', () => {
    for (const size of [1e-6, 1, 1e6]) {
      const sheet = gridOf(9, 7)
      const facts = createMeshFacts({ ...sheet, points: sheet.points.map((value) => value * size) })
      for (const value of edgeExposure(facts, null)) expect(value).toBe(1)
    }
  })
  test('a point far off that no polygon has changes nothing', () => {
    const mesh = ball(16, 24, (x, y, z) => (y > 0 ? [0.9 * x, -0.5 * y, 0.9 * z] : [x, y, z]))
    const far = { ...mesh, points: Float64Array.from([...mesh.points, 1e6, 0, 0]) }
    expect([...edgeExposure(createMeshFacts(far), UP)]).toEqual([...edgeExposure(createMeshFacts(mesh), UP)])
  })
  test('the inside of a deep cup is seen less than its outside', () => {
    // the upper half of a long ball pushed into the lower one
    const cup = ball(24, 24, (x, y, z) => (y > 0 ? [0.9 * x, -1.8 * y, 0.9 * z] : [x, 2 * y, z]))
    const facts = createMeshFacts(cup)
    const exposure = edgeExposure(facts, null)
    const far = (x: number, z: number): number => Math.hypot(x, z)
    const inside = meanWhere(
      facts,
      exposure,
      (x, y, z) => y < -0.8 && far(x, z) < 0.85 * Math.sqrt(1 - (y / 1.8) ** 2) + 0.06 && far(x, z) < 0.9,
    )
    const outside = meanWhere(
      facts,
      exposure,
      (x, y, z) => y < -0.2 && y > -1 && far(x, z) > 0.95 * Math.sqrt(1 - (y / 2) ** 2),
    )
    expect(inside).toBeLessThan(outside - 0.2)
  })
  test('what is hidden costs less, and nothing costs nothing', () => {
    const facts = createMeshFacts(ball(16, 24))
    const costs = seamCosts(facts, joints(facts), UP)
    expect(Math.min(...costs)).toBeGreaterThan(0)
    const plain = seamCosts(facts, joints(facts), null)
    expect(
      meanWhere(facts, costs, (_x, y) => y < -0.9) / meanWhere(facts, plain, (_x, y) => y < -0.9),
    ).toBeLessThan(0.8)
  })
  test('a hundred thousand sheets on one place, and as many points on one spot, end', () => {
    const count = 100_000
    const sheet: Point[] = [[0, 0, 0], [1, 0, 0], [0, 0, 1]] // prettier-ignore
    const mesh = meshOf(sheet, [[0, 1, 2]])
    const points = new Float64Array(9 * count)
    for (let at = 0; at < count; at++) points.set(mesh.points, 9 * at)
    const stack = {
      ...mesh,
      points,
      faceOffsets: Uint32Array.from({ length: count + 1 }, (_offset, at) => 3 * at),
      faceVertices: Uint32Array.from({ length: 3 * count }, (_corner, at) => at),
    }
    const facts = createMeshFacts(stack)
    expect(edgeExposure(facts, UP)).toHaveLength(3 * count)
    expect(findMirror(facts)).toBeNull()
    // what is no number lies at the origin
    expect(
      findMirror(createMeshFacts({ ...stack, points: new Float64Array(9 * count).fill(NaN) })),
    ).toBeNull()
  })
  test('nonsense has an answer', () => {
    const nothing = createMeshFacts(meshOf([], []))
    expect(edgeExposure(nothing, UP)).toHaveLength(0)
    const dot = createMeshFacts(meshOf([[1, 1, 1], [1, 1, 1], [1, 1, 1]], [[0, 1, 2]])) // prettier-ignore
    for (const value of edgeExposure(dot, UP)) expect(value).toBe(1)
    const broken = createMeshFacts(meshOf([[NaN, 0, 0], [1, Infinity, 0], [0, 1, 0], [1, 1, 0]], [[0, 1, 2], [2, 1, 3]])) // prettier-ignore
    for (const value of edgeExposure(broken, [NaN, 0, 0])) expect(value >= 0 && value <= 1).toBe(true)
  })
})

describe('a mirror image of itself', () => {
  test('a cube, a ball and parts of the heron are; a bent sheet is not', () => {
    expect(findMirror(createMeshFacts(cubeOf()))).toMatchObject({ axis: 0 })
    const facts = createMeshFacts(ball(8, 12))
    const mirror = findMirror(facts)!
    const normals = facts.faceNormals()
    mirror.faces.forEach((other, face) => {
      expect(mirror.faces[other]).toBe(face)
      const sign = [0, 1, 2].map((axis) => (axis === mirror.axis ? -1 : 1))
      for (const axis of [0, 1, 2])
        expect(normals[3 * other + axis]).toBeCloseTo(sign[axis]! * normals[3 * face + axis]!, 9)
    })
    expect(findMirror(createMeshFacts(gridOf(4, 4, {}, (x, z) => x * x + 3 * z * z * z + x * z)))).toBeNull()
  })
  test('also where it doesn’t stand at the origin, along any axis, in any numbering', () => {
    const lopsided = ball(10, 14, (x, y, z) => [x + 0.2 * y * y * y, y + 0.1 * x * x, z])
    for (const axis of [0, 1, 2] as const) {
      // the axis that it is alike along takes each place in turn
      const points = lopsided.points.map((_value, at) => {
        const point = 3 * Math.floor(at / 3)
        return lopsided.points[point + (((at % 3) - axis + 2 + 3) % 3)]! + 7
      })
      const turned = renumberMesh({ ...lopsided, points }, 5)
      expect(findMirror(createMeshFacts(turned))).toMatchObject({ axis, at: expect.closeTo(7, 6) as number })
    }
  })
  test('one point that was moved, and it is none', () => {
    const mesh = ball(8, 12)
    const points = mesh.points.slice()
    points[40]! += 0.01
    expect(findMirror(createMeshFacts({ ...mesh, points }))).not.toMatchObject({
      axis: 0,
      faces: expect.anything() as never,
      at: 0,
      none: true,
    })
    const lopsided = ball(8, 12, (x, y, z) => [
      x + 0.3 * y * y * y + 0.1 * z,
      y + 0.2 * x * x,
      z + 0.2 * y * x,
    ])
    expect(findMirror(createMeshFacts(lopsided))).toBeNull()
  })
})

/** edgeCount flags; 1 where the two sides of an edge don't lie on each other in the layout. */
function edgesCut(facts: MeshFacts, islands: ReturnType<typeof layFaces>['islands']): Uint8Array {
  const { faceOffsets } = facts.mesh
  const { cornerEdges, edgeCount, edgeCorners } = facts.edges()
  const at = new Map<number, string>()
  islands.forEach(({ net }, island) => {
    for (let place = 0; place < net.faces.length; place++)
      for (let k = net.faceStarts[place]!; k < net.faceStarts[place + 1]!; k++) {
        const next = k + 1 < net.faceStarts[place + 1]! ? k + 1 : net.faceStarts[place]!
        const ends = [net.vertices[k]!, net.vertices[next]!].sort((a, b) => a - b)
        at.set(faceOffsets[net.faces[place]!]! + k - net.faceStarts[place]!, `${island} ${ends.join(' ')}`)
      }
  })
  expect(cornerEdges.length).toBe(at.size)
  return Uint8Array.from({ length: edgeCount }, (_edge, edge) => {
    const [a, b] = [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!]
    return b < 0 || at.get(a) !== at.get(b) ? 1 : 0
  })
}

/** Faces whose image doesn't lie in the image of their island. */
function unlike(mesh: Mesh): { count: number; islands: number } {
  const facts = createMeshFacts(mesh)
  const mirror = findMirror(facts)!
  const { islands } = layFaces(facts, null, null, null, {
    method: 'leastDistortion',
    distortion: 0.06,
    rounds: 20,
    up: UP,
  })
  const of = new Int32Array(facts.faceCount).fill(-1)
  islands.forEach(({ net }, island) => {
    for (let at = 0; at < net.faces.length; at++) of[net.faces[at]!] = island
  })
  expect(of.includes(-1)).toBe(false)
  const image = new Map<number, number>()
  let count = 0
  of.forEach((island, face) => {
    const other = of[mirror.faces[face]!]!
    if (!image.has(island)) image.set(island, other)
    else if (image.get(island) !== other) count++
  })
  return { count, islands: islands.length }
}

describe('seams of a mirror image are alike on both sides', () => {
  const heron = buildCourierHeron()
  test.each(['body', 'beak', 'crest', 'goggles', 'eye_left'])('%s of the heron', (name) => {
    const mesh = heron.meshes.find((own) => own.name === name)!
    expect(unlike(mesh)).toMatchObject({ count: 0 })
    expect(unlike(renumberMesh(mesh, 9))).toMatchObject({ count: 0 })
  })
  test('random lumpy shapes that are alike along X', () => {
    for (let seed = 0; seed < 40; seed++) {
      const chance = chanceOf(seed)
      const [a, b, c, d] = Array.from({ length: 4 }, () => chance() * 0.5) as [number, number, number, number]
      const lumpy = ball(14, 20, (x, y, z) => {
        const out = 1 + a * Math.cos(3 * y + z) + b * x * x * z + c * Math.sin(4 * z + d)
        return [x * out, y * out * 1.4, z * out + d * y]
      })
      expect([seed, unlike(renumberMesh(lumpy, seed)).count]).toEqual([seed, 0])
    }
  })
  test('edges that have to stay seams stay them, also where they are on one side alone', () => {
    for (let seed = 0; seed < 8; seed++) {
      const chance = chanceOf(seed)
      const facts = createMeshFacts(ball(12, 16))
      const isBarrier = Uint8Array.from({ length: facts.edges().edgeCount }, () => Number(chance() < 0.06))
      const { islands } = layFaces(facts, null, null, isBarrier, {
        method: 'leastDistortion',
        distortion: 0.06,
        rounds: 5,
        up: UP,
      })
      const cuts = edgesCut(facts, islands)
      isBarrier.forEach((flag, edge) => expect([seed, edge, flag ? cuts[edge] : 1]).toEqual([seed, edge, 1]))
    }
  })
  test('no island goes across groups that only one side has', () => {
    for (let seed = 0; seed < 8; seed++) {
      const chance = chanceOf(seed)
      const facts = createMeshFacts(ball(12, 16))
      const [x, y, z] = [chance() - 0.5, chance() - 0.5, chance() - 0.5]
      const points = facts.points()
      const { faceOffsets, faceVertices } = facts.mesh
      const groups = Int32Array.from({ length: facts.faceCount }, (_face, face) => {
        const at = 3 * faceVertices[faceOffsets[face]!]!
        return points[at]! * x + points[at + 1]! * y + points[at + 2]! * z > 0.05 ? 1 : 0
      })
      const { islands } = layFaces(facts, null, null, between(facts, groups), {
        method: 'leastDistortion',
        distortion: 0.2,
        rounds: 5,
        up: UP,
      })
      for (const { net } of islands)
        expect([seed, new Set(Array.from(net.faces, (face) => groups[face])).size]).toEqual([seed, 1])
    }
  })
  test('no island sprawls for it: the heron fills as much of the tile as ever', () => {
    const done = runStep(heron, { step: 'unwrap', params: { padding: 8, mapSize: 2048 } })
    const [, used] = /use (\d+) % of the tile/.exec(done.notes.join(' '))!
    expect(Number(used)).toBeGreaterThanOrEqual(62)
  })
})
