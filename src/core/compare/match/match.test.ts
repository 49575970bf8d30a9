import { describe, expect, test } from 'vitest'
import { CUBE, readText } from '../../../../tests/meshes.ts'
import { cubeOf, gridOf, meshOf, moved, scaled, sceneOf, uvsOf, withNodes } from '../../../../tests/solids.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { triangulateScene } from '../../formats/arrange/arrange-scene.ts'
import { multiplyMatrices } from '../../base/math/matrix.ts'
import type { Scene } from '../../scene/scene.ts'
import { carvePoints } from '../../practice/faults/carve-points.ts'
import { renumberMesh } from '../../practice/standins/sculptor.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { correspond } from './correspond.ts'
import { matchConnectivity } from './match-connectivity.ts'
import { matchParts } from './match-parts.ts'
import { matchPositions } from './match-positions.ts'

describe('by position', () => {
  const cloud = (...points: number[]) => Float64Array.from(points)
  test('the nearest within reach, each only once', () => {
    const master = cloud(0, 0, 0, 1, 0, 0, 5, 5, 5)
    const returned = cloud(1.0001, 0, 0, 0, 0.0001, 0, 1.0002, 0, 0)
    expect([...matchPositions(master, returned, 0.001)]).toEqual([1, 0, -1])
  })
  test('across cell borders, where a rounded grid would miss the pair', () => {
    for (let step = 0; step < 200; step++) {
      const x = step * 0.0137
      expect([...matchPositions(cloud(x, -x, x), cloud(x + 0.0009, -x, x), 0.001)]).toEqual([0])
      expect([...matchPositions(cloud(x, -x, x), cloud(x + 0.0011, -x, x), 0.001)]).toEqual([-1])
    }
  })
  test('coincident points keep their order, a heap of them included', () => {
    expect([...matchPositions(cloud(1, 1, 1, 1, 1, 1), cloud(1, 1, 1, 1, 1, 1), 0.1)]).toEqual([0, 1])
    const heap = new Float64Array(3 * 300000).fill(2)
    const matched = matchPositions(heap, heap, 0.1)
    expect(matched.every((other, point) => other === point)).toBe(true)
  })
})

/** The renumbering that `renumberMesh` makes with a seed: the new number of each point. */
function truth(mesh: Mesh, seed: number): number[] {
  const marked = renumberMesh({ ...mesh, points: mesh.points.map((_value, at) => Math.floor(at / 3)) }, seed)
  const newOf: number[] = []
  for (let point = 0; point < marked.points.length / 3; point++) newOf[marked.points[3 * point]!] = point
  return newOf
}

describe('by connectivity, with moved points and new numbers', () => {
  const parts = [...buildCourierHeron().meshes, ...buildStormLantern().meshes]
  test.each(parts.map((mesh) => [mesh.name, mesh] as const))('%s', (_name, mesh) => {
    const moved = renumberMesh({ ...mesh, points: carvePoints(mesh, 0.01) }, 11)
    const found = correspond(mesh, moved)
    expect(found.kind).toBe('connectivity')
    expect(found.matchedFaceCount).toBe(faceCountOf(mesh))
    expect([...found.pointToReturned]).toEqual(truth(mesh, 11))
  })
  test('other polygons with the same counts are no match', () => {
    const a = readText('v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 2 0 0\nv 2 1 0\nf 1 2 3 4\nf 2 5 6 3\n').scene
      .meshes[0]!
    const b = readText('v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 2 0 0\nv 2 1 0\nf 1 2 3 4\nf 1 5 6 3\n').scene
      .meshes[0]!
    expect(matchConnectivity(a, a)).not.toBeNull()
    expect(matchConnectivity(a, b)).toBeNull()
  })
})

test('ways of corresponding', () => {
  const mesh = readText(CUBE).scene.meshes[0]!
  expect(correspond(mesh, { ...mesh, points: mesh.points.map((value) => value * 3) }).kind).toBe('index')
  expect(correspond(mesh, renumberMesh(mesh, 3)).kind).toBe('position')
  const cut = readText(CUBE.replace('f 4/1 1/2 5/3 8/5\n', 'f 4/1 1/2 5/3\nf 4/1 5/3 8/5\n')).scene.meshes[0]!
  const partial = correspond(mesh, cut)
  // the cut one counts, with its first piece
  expect([partial.kind, partial.matchedFaceCount, partial.cutFaceCount]).toEqual(['partial', 6, 1])
  expect([...partial.pieceToMaster!]).toEqual([-1, -1, -1, -1, -1, 5, 5])
})

describe('parts', () => {
  const scene = (...names: [string, number][]) =>
    readText(
      names
        .map(
          ([name, x], index) =>
            `o ${name}\nv ${x} 0 0\nv ${x + 1} 0 0\nv ${x} 1 0\nf ${3 * index + 1} ${3 * index + 2} ${3 * index + 3}\n`,
        )
        .join(''),
    ).scene
  const pairs = (a: ReturnType<typeof scene>, b: ReturnType<typeof scene>) =>
    matchParts(a, b).map((match) => [match.masterNode, match.returnedNode, match.by])
  test('by name in any order', () => {
    expect(pairs(scene(['a', 0], ['b', 5]), scene(['b', 5], ['a', 0]))).toEqual([
      [0, 1, 'path'],
      [1, 0, 'path'],
    ])
  })
  test('twins named alike by where they are', () => {
    expect(pairs(scene(['eye', 0], ['eye', 5]), scene(['eye', 5], ['eye', 0]))).toEqual([
      [0, 1, 'shape'],
      [1, 0, 'shape'],
    ])
  })
  test('with a number appended, or in a namespace', () => {
    expect(pairs(scene(['eye_left', 0], ['beak', 3]), scene(['rig:Beak', 9], ['eye_left.001', 9]))).toEqual([
      [0, 1, 'similar-name'],
      [1, 0, 'similar-name'],
    ])
  })
  test('lost and new ones', () => {
    const more = readText(
      'o cap\nv 0 0 0\nv 9 0 0\nv 9 9 0\nv 0 9 0\nv 4 12 0\nf 1 2 3 4\nf 4 3 5\no a\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 6 7 8\n',
    ).scene
    expect(pairs(scene(['a', 0], ['b', 5], ['c', 8]), more)).toEqual([
      [0, 1, 'path'],
      [1, -1, 'none'],
      [2, -1, 'none'],
      [-1, 0, 'none'],
    ])
  })
  /** Cubes of one name in a row, a transform each. */
  const row = (names: readonly string[], places: readonly number[], mesh = cubeOf()): Scene =>
    withNodes(sceneOf(names.map(() => mesh)), (_node, at) => ({
      name: names[at]!,
      local: moved(3 * places[at]!, 0, 0),
    }))
  test('twins by where their transforms put them, also cut into triangles and a hundred times as large', () => {
    const bolts = row(['bolt', 'bolt', 'bolt'], [0, 1, 2])
    const others = triangulateScene(row(['bolt', 'bolt', 'bolt'], [2, 0, 1]))
    const found = [
      [0, 1],
      [1, 2],
      [2, 0],
    ]
    expect(pairs(bolts, others).map(([a, b]) => [a, b])).toEqual(found)
    const large = withNodes(others, (node) => ({
      local: multiplyMatrices(scaled(100, 100, 100), node.local),
    }))
    expect(pairs(bolts, large).map(([a, b]) => [a, b])).toEqual(found)
  })
  test('renamed and cut, by the place alone; what stands elsewhere is another', () => {
    const sent = row(['lid', 'rim', 'cap'], [0, 1, 2])
    const home = triangulateScene(row(['a', 'b', 'c'], [1, 0, 2]))
    expect(pairs(sent, home)).toEqual([
      [0, 1, 'place'],
      [1, 0, 'place'],
      [2, 2, 'place'],
    ])
    const fewer = triangulateScene(row(['a', 'b'], [0, 2], gridOf(3, 1)))
    expect(pairs(sent, fewer).map(([, , by]) => by)).toEqual(['none', 'none', 'none', 'none', 'none'])
  })
  test('thousands of one name are paired by their places without looking at every pair', () => {
    const many = Array.from({ length: 3000 }, (_part, at) => at)
    const names = many.map(() => 'rivet')
    const turned = many.map((at) => (at * 7) % 3000)
    const found = matchParts(row(names, many), triangulateScene(row(names, turned)))
    expect(found.map(({ masterNode, returnedNode }) => [masterNode, turned[returnedNode]])).toEqual(
      many.map((at) => [at, at]),
    )
  })
  test('as many of a name on both sides, standing elsewhere: in their order', () => {
    const home = triangulateScene(row(['bolt', 'bolt'], [7, 4], gridOf(3, 1)))
    expect(pairs(row(['bolt', 'bolt'], [0, 1]), home)).toEqual([
      [0, 0, 'similar-name'],
      [1, 1, 'similar-name'],
    ])
  })
})

describe('pieces of polygons that lie twice over the same points', () => {
  const points = [[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]] as const // prettier-ignore
  const twins = meshOf(points, [[0, 1, 2, 3], [0, 3, 2, 1]]) // prettier-ignore
  test('each gets its own, in whatever order they come', () => {
    const pieces = [[0, 1, 2], [0, 3, 2], [2, 3, 0], [2, 1, 0]] // prettier-ignore
    for (const order of [
      [0, 1, 2, 3],
      [3, 2, 1, 0],
      [1, 0, 3, 2],
      [0, 3, 1, 2],
    ]) {
      // prettier-ignore
      const found = correspond(
        twins,
        meshOf(
          points,
          order.map((at) => pieces[at]!),
        ),
      )
      expect([found.matchedFaceCount, found.cutFaceCount]).toEqual([2, 2])
      // the piece 0 1 2 and its fellow 2 3 0 wind as the first twin does
      expect([...found.pieceToMaster!]).toEqual(order.map((at) => [0, 1, 0, 1][at]))
    }
  })
  test('one that came back once too few is not whole', () => {
    const found = correspond(twins, meshOf(points, [[0, 1, 2], [0, 3, 2], [2, 3, 0]])) // prettier-ignore
    expect([found.matchedFaceCount, found.cutFaceCount]).toEqual([1, 1])
    expect([...found.pieceToMaster!]).toEqual([0, -1, 0])
  })
  test('a polygon of very many corners is found in its triangles at once', () => {
    const rim = Array.from({ length: 20000 }, (_point, at) => {
      const angle = (2 * Math.PI * at) / 20000
      return [Math.cos(angle), 0, Math.sin(angle)] as const
    })
    const fan = rim.slice(2).map((_point, at) => [0, at + 1, at + 2])
    const found = correspond(meshOf(rim, [[...rim.keys()]]), meshOf(rim, fan))
    expect([found.matchedFaceCount, found.cutFaceCount]).toEqual([1, 1])
    expect([...found.cornerToReturned].every((corner) => corner >= 0)).toBe(true)
  })
})

describe('shells that lie on each other, in another order', () => {
  /** A sheet of side x side quads, and beside it shells of one row that lie on each other and whose UVs don't, in an order. */
  const doubled = (side: number, order: readonly number[]): Mesh => {
    const points: [number, number, number][] = []
    const faces: number[][] = []
    const uvs: [number, number][] = []
    for (const shell of order) {
      const rows = shell === 0 ? side : 1
      const first = points.length
      for (let row = 0; row <= rows; row++)
        for (let column = 0; column <= side; column++) {
          points.push([column, Math.sin(column) * 0.2, shell === 0 ? row : row - 9])
          uvs.push([3 * shell + column / side, row / side])
        }
      for (let row = 0; row < rows; row++)
        for (let column = 0; column < side; column++) {
          const at = first + row * (side + 1) + column
          faces.push([at, at + side + 1, at + side + 2, at + 1])
        }
    }
    return meshOf(points, faces, {
      uvSets: [uvsOf(faces.flatMap((face) => face.map((point) => uvs[point]!)))],
    })
  }
  const cutOf = (mesh: Mesh): Mesh => triangulateScene(sceneOf([mesh])).meshes[0]!
  test.each([
    ['the last shell first', (mesh: Mesh, other: Mesh) => [mesh, cutOf(other)]],
    ['the last shell first, not cut', (mesh: Mesh, other: Mesh) => [mesh, other]],
    ['in a random order', (mesh: Mesh) => [mesh, renumberMesh(cutOf(mesh), 3)]],
    ['in a random order, not cut', (mesh: Mesh) => [mesh, renumberMesh(mesh, 3)]],
    ['in another', (mesh: Mesh) => [mesh, renumberMesh(cutOf(mesh), 4)]],
  ])('each goes with its own, %s', (_what, made) => {
    const [mesh, returned] = made(doubled(60, [0, 1, 2]), doubled(60, [2, 1, 0])) as [Mesh, Mesh]
    const found = correspond(mesh, returned)
    expect(found.matchedFaceCount).toBe(mesh.faceOffsets.length - 1)
    const [own, other] = [mesh.uvSets[0]!, returned.uvSets[0]!]
    found.cornerToReturned.forEach((there, corner) => {
      const [a, b] = [own.indices[corner]!, other.indices[there]!]
      expect([other.values[2 * b], other.values[2 * b + 1]]).toEqual([
        own.values[2 * a],
        own.values[2 * a + 1],
      ])
    })
  })
})
