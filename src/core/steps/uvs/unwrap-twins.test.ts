/** Parts that are copies of each other get the same islands, mirrored ones mirrored. */
import { describe, expect, test } from 'vitest'
import { meshOf, sceneOf, type Point } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { findSeams, uvAreas } from '../../uv/uv-measures.ts'
import type { RecipeStep } from '../recipe.ts'
import { runStep } from '../run-steps.ts'

/** A lumpy tube, closed at one end, that is no mirror image of itself. */
function limb(seed: number): { points: Point[]; faces: number[][] } {
  const next = chanceOf(seed)
  const lumps = Array.from({ length: 4 }, () => [next() * 3, next() * 3, 0.1 + 0.15 * next()] as const)
  const points: Point[] = []
  for (let row = 0; row <= 10; row++)
    for (let column = 0; column < 12; column++) {
      const around = (2 * Math.PI * column) / 12
      const out = lumps.reduce(
        (sum, [a, b, high]) => sum + high * Math.sin(a * around + b + row * 0.4),
        1 + 0.06 * row,
      )
      points.push([3 + out * Math.cos(around) + 0.05 * row * row, row, out * Math.sin(around) - 0.3 * row])
    }
  const at = (row: number, column: number): number => 12 * row + (column % 12)
  const faces = Array.from({ length: 120 }, (_face, face) => {
    const [row, column] = [Math.floor(face / 12), face % 12]
    return [at(row, column), at(row + 1, column), at(row + 1, column + 1), at(row, column + 1)]
  })
  return { points, faces: [...faces, Array.from({ length: 12 }, (_corner, column) => at(10, 11 - column))] }
}

/** The same with other numbers, and moved by `placed`; polygons the other way round where that mirrors. */
function copyOf(
  { points, faces }: ReturnType<typeof limb>,
  placed: (point: Point) => Point,
  mirrors: boolean,
  seed: number,
): { mesh: Mesh; faceOf: number[] } {
  const next = chanceOf(seed)
  const shuffled = (count: number): number[] => {
    const order = Array.from({ length: count }, (_value, at) => at)
    for (let at = count - 1; at > 0; at--) {
      const other = Math.floor(next() * (at + 1))
      ;[order[at], order[other]] = [order[other]!, order[at]!]
    }
    return order
  }
  const numbers = shuffled(points.length)
  const moved: Point[] = []
  points.forEach((point, at) => (moved[numbers[at]!] = placed(point)))
  const order = shuffled(faces.length)
  const made = order.map((face) => {
    const corners = faces[face]!.map((point) => numbers[point]!)
    if (mirrors) corners.reverse()
    const first = Math.floor(next() * corners.length)
    return [...corners.slice(first), ...corners.slice(0, first)]
  })
  const faceOf: number[] = []
  order.forEach((face, at) => (faceOf[face] = at))
  return { mesh: meshOf(moved, made, { name: 'copy' }), faceOf }
}

const unwrapped = (scene: Scene, params: RecipeStep['params'] = {}): Scene =>
  runStep(scene, { step: 'unwrap', params: { pack: false, ...params } }).scene

/** Lengths of a mesh's seams, and of its faces' areas as they lie. */
const seamLengths = (mesh: Mesh): string => {
  const facts = createMeshFacts(mesh)
  const { edgePoints, edgeSides } = facts.edges()
  return Array.from(findSeams(facts, mesh.uvSets[0]!), (isSeam, edge) => {
    if (!isSeam || edgeSides[edge] !== 2) return 0
    const [a, b] = [3 * edgePoints[2 * edge]!, 3 * edgePoints[2 * edge + 1]!]
    return Math.hypot(...[0, 1, 2].map((axis) => mesh.points[a + axis]! - mesh.points[b + axis]!))
  })
    .filter(Boolean)
    .sort((a, b) => a - b)
    .map((length) => length.toFixed(6))
    .join()
}

const placements: readonly [string, (point: Point) => Point, boolean][] = [
  ['mirrored', ([x, y, z]) => [-x, y, z], true],
  ['moved and turned', ([x, y, z]) => [z + 20, y, -x], false],
]

describe.each(placements)('%s', (_name, placed, mirrors) => {
  test.each([1, 2, 3])('with any numbers: the same seams and the same islands (%i)', (seed) => {
    const whole = limb(seed)
    const { mesh: copy, faceOf } = copyOf(whole, placed, mirrors, seed)
    const [first, second] = unwrapped(sceneOf([meshOf(whole.points, whole.faces), copy])).meshes as [
      Mesh,
      Mesh,
    ]
    expect(seamLengths(second)).toBe(seamLengths(first))
    const [areas, copied] = [uvAreas(first, first.uvSets[0]!), uvAreas(second, second.uvSets[0]!)]
    expect(copied.every((area) => area > 0)).toBe(true)
    faceOf.forEach((face, at) => expect(copied[face]).toBeCloseTo(areas[at]!, 12))
  })

  test('other face groups that no island may cross: it is laid by itself, and never across them', () => {
    const whole = limb(5)
    const { mesh, faceOf } = copyOf(whole, placed, mirrors, 5)
    const halves = { names: ['low', 'high'], sets: [[0], [1]] }
    const copy: Mesh = {
      ...mesh,
      groups: {
        ...halves,
        faceSets: Int32Array.from({ length: 121 }, (_face, face) => (faceOf.indexOf(face) < 36 ? 0 : 1)),
      },
    }
    const done = unwrapped(sceneOf([meshOf(whole.points, whole.faces), copy]), { keepGroups: true })
      .meshes[1]!
    const facts = createMeshFacts(done)
    const { edgeCorners, edgeCount } = facts.edges()
    const seams = findSeams(facts, done.uvSets[0]!)
    const faces = facts.cornerFaces()
    let across = 0
    for (let edge = 0; edge < edgeCount; edge++) {
      const [a, b] = [edgeCorners[2 * edge]!, edgeCorners[2 * edge + 1]!]
      if (b < 0 || copy.groups!.faceSets[faces[a]!] === copy.groups!.faceSets[faces[b]!]) continue
      across++
      expect(seams[edge]).toBe(1)
    }
    expect(across).toBe(12)
  })

  test('polygons that lie on each other, both ways round, are told apart', () => {
    const whole = limb(8)
    const doubled = { ...whole, faces: [...whole.faces, [...whole.faces[7]!].reverse()] }
    const { mesh } = copyOf(doubled, placed, mirrors, 8)
    const [first, second] = unwrapped(sceneOf([meshOf(doubled.points, doubled.faces), mesh])).meshes as [
      Mesh,
      Mesh,
    ]
    expect(seamLengths(second)).toBe(seamLengths(first))
  })

  test('of a copy with a polygon less nothing is taken over', () => {
    const whole = limb(6)
    const { mesh } = copyOf({ ...whole, faces: whole.faces.slice(1) }, placed, mirrors, 6)
    const done = unwrapped(sceneOf([meshOf(whole.points, whole.faces), mesh]))
    expect(uvAreas(done.meshes[1]!, done.meshes[1]!.uvSets[0]!).every((area) => area > 0)).toBe(true)
  })
})

test('a node that stretches its part: what lies flat is that part as it is in its own space', () => {
  const whole = limb(7)
  const stretched = meshOf(
    whole.points.map(([x, y, z]): Point => [x, y / 4, z]),
    whole.faces,
  )
  const flat = sceneOf([meshOf(whole.points, whole.faces), stretched])
  const scene: Scene = {
    ...flat,
    nodes: flat.nodes.map((node, at) =>
      at === 1 ? { ...node, matrix: [1, 0, 0, 0, 0, 4, 0, 0, 0, 0, 1, 0, 9, 0, 0, 1] } : node,
    ),
  }
  const own = unwrapped(sceneOf([stretched])).meshes[0]!
  expect(seamLengths(unwrapped(scene).meshes[1]!)).toBe(seamLengths(own))
})

test('the heron’s boots are one the mirror image of the other', () => {
  const scene = unwrapped(buildCourierHeron())
  const named = (name: string): Mesh => scene.meshes.find((mesh) => mesh.name === name)!
  const pairs = scene.meshes
    .map(({ name }) => name)
    .filter((name) => /left/i.test(name))
    .map((name) => [named(name), named(name.replace('left', 'right').replace('Left', 'Right'))] as const)
  expect(pairs.length).toBeGreaterThan(0)
  for (const [left, right] of pairs) expect(seamLengths(right)).toBe(seamLengths(left))
})
