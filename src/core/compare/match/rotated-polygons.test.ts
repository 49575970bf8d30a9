/** Polygons of which any corner may be the first: single ones, and loose ones, numbered anew within their own numbers. */
import { describe, expect, test } from 'vitest'
import { meshOf, uvsOf, type Point } from '../../../../tests/solids.ts'
import { howMany } from '../../../../tests/how-many.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { multiplyMatrices, transformPoints } from '../../base/math/matrix.ts'
import { rotationMatrix } from '../../formats/fbx/transform-chain.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { correspond } from './correspond.ts'
import { rotatedPolygons } from './rotated-polygons.ts'

const REACH = 1e-5

/** Polygons that share no points, as their corners' places one after the other. */
function loose(polygons: readonly (readonly Point[])[], hasUvs: boolean): Mesh {
  let from = 0
  const faces = polygons.map((corners) => corners.map(() => from++))
  const uvs = polygons.flatMap((corners, polygon) => corners.map((_corner, at): [number, number] => [polygon + at / 10, at / 7])) // prettier-ignore
  return meshOf(polygons.flat(), faces, hasUvs ? { uvSets: [uvsOf(uvs)] } : {})
}

/** Each polygon begun at another corner, or wound the other way. @returns with where each point went. */
function begunElsewhere(
  mesh: Mesh,
  chance: () => number,
  mayTurn: boolean,
): { came: Mesh; went: Int32Array } {
  const went = new Int32Array(mesh.points.length / 3)
  const points = new Float64Array(mesh.points.length)
  const uvs = mesh.uvSets.map((set) => ({ ...set, indices: new Int32Array(set.indices.length) }))
  for (let face = 0; face + 1 < mesh.faceOffsets.length; face++) {
    const [start, end] = [mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!]
    const count = end - start
    const way = mayTurn && chance() < 0.5 ? -1 : 1
    const first = 1 + Math.floor((count - 1) * chance())
    for (let at = 0; at < count; at++) {
      const old = start + ((first + way * at + count) % count)
      went[mesh.faceVertices[old]!] = start + at
      points.set(mesh.points.subarray(3 * old, 3 * old + 3), 3 * (start + at))
      uvs.forEach((set, number) => (set.indices[start + at] = mesh.uvSets[number]!.indices[old]!))
    }
  }
  return { came: { ...mesh, points, uvSets: uvs }, went }
}

const anyPolygon = (chance: () => number, count: number, away: number): Point[] =>
  Array.from({ length: count }, (_corner, at): Point => {
    const out = 0.6 + chance()
    return [away + out * Math.cos((2 * Math.PI * at) / count), 0.3 * chance(), out * Math.sin((2 * Math.PI * at) / count)] // prettier-ignore
  })

const turned = (mesh: Mesh, chance: () => number, factor = 1): Mesh => ({
  ...mesh,
  points: transformPoints(mesh.points, multiplyMatrices([factor, 0, 0, 0, 0, factor, 0, 0, 0, 0, factor, 0, 3, 1, 2, 1], rotationMatrix([180 * chance(), 80 * chance(), 180 * chance()], 'xyz'))), // prettier-ignore
})

describe.each([true, false])('polygons begun at another corner, UVs: %s', (hasUvs) => {
  test.each(Array.from({ length: howMany(12, 400) }, (_case, seed) => seed))('seed %i', (seed) => {
    const chance = chanceOf(seed * 97 + 5)
    const count = seed % 3 === 0 ? 1 : 2 + Math.floor(6 * chance())
    const master = loose(Array.from({ length: count }, (_polygon, at) => anyPolygon(chance, 3 + Math.floor(6 * chance()), 5 * at)), hasUvs) // prettier-ignore
    const { came, went } = begunElsewhere(master, chance, true)
    // where it lay
    expect(rotatedPolygons(master, came, REACH)?.pointToReturned).toEqual(went)
    // turned, moved and a hundredfold: only its shape says, or its UVs as well
    const away = turned(came, chance, seed % 2 ? 100 : 1)
    const found = rotatedPolygons(master, away, REACH)
    expect(found?.guess).toBeUndefined()
    expect(found?.pointToReturned).toEqual(went)
    expect(found?.matchedFaceCount).toBe(count)
  })
})

const SQUARE: readonly Point[] = [[0, 0, 0], [1, 0, 0], [1, 0, -1], [0, 0, -1]] // prettier-ignore

describe('what the numbers say stays', () => {
  test('a polygon that lies as it lay, its UVs given other corners', () => {
    const master = loose([anyPolygon(chanceOf(3), 5, 0)], true)
    const [set] = master.uvSets
    const uvsMoved = { ...master, uvSets: [{ ...set!, indices: Int32Array.from([1, 2, 3, 4, 0]) }] }
    expect(rotatedPolygons(master, uvsMoved, REACH)).toBeNull()
    expect(correspond(master, uvsMoved).kind).toBe('index')
  })

  test('a square whose layout was turned while it was moved', () => {
    const master = loose([SQUARE], true)
    const moved = turned(master, chanceOf(4))
    const [set] = moved.uvSets
    const came = { ...moved, uvSets: [{ ...set!, indices: Int32Array.from([1, 2, 3, 0]) }] }
    expect(rotatedPolygons(master, came, REACH)).toBeNull()
  })

  test.each(Array.from({ length: howMany(40, 2000) }, (_case, seed) => seed))(
    'a triangle that was stretched, seed %i',
    (seed) => {
      // prettier-ignore
      const chance = chanceOf(seed * 31 + 11)
      const master = loose([[[0, 0, 0], [1, 0, chance()], [0, 1, 0]]], false) // prettier-ignore
      const by = 1.2 + chance()
      const came = { ...master, points: master.points.map((value, at) => (at % 3 === 1 ? value * by : value) + 3) } // prettier-ignore
      expect(correspond(master, came).pointToReturned).toEqual(Int32Array.of(0, 1, 2))
    },
  )

  test('polygons that share points are others’ matter, and more than are asked', () => {
    const shared = meshOf([...SQUARE, [2, 0, 0]], [[0, 1, 2], [0, 2, 3], [1, 4, 2]]) // prettier-ignore
    const { faceVertices } = shared
    const came = { ...shared, faceVertices: Uint32Array.from(faceVertices, (_point, at) => faceVertices[at - (at % 3) + ((at + 1) % 3)]!) } // prettier-ignore
    expect(rotatedPolygons(shared, came, REACH)).toBeNull()
  })
})

test('a symmetrical polygon that begins elsewhere and was moved is a guess', () => {
  const star = Array.from({ length: 16 }, (_corner, at): Point => {
    const out = at % 2 ? 1 : 0.5
    return [out * Math.cos((Math.PI * at) / 8), 0, out * Math.sin((Math.PI * at) / 8)]
  })
  const master = loose([star], false)
  const rewound = { ...turned(master, chanceOf(8)), faceVertices: master.faceVertices.slice().reverse() }
  const found = correspond(master, rewound)
  expect(found.guess).toBe(true)
  // where it lies where it lay there is nothing to guess
  const back = { ...master, points: Float64Array.from(star.toReversed().flat()), faceVertices: master.faceVertices } // prettier-ignore
  expect(correspond(master, back)).toMatchObject({ pointToReturned: Int32Array.from(master.faceVertices).reverse() }) // prettier-ignore
  expect(correspond(master, back).guess).toBeUndefined()
})

test('a polygon of very many corners ends at once, and one that came back with a corner twice is asked nothing', () => {
  const many = loose([anyPolygon(chanceOf(2), 300_000, 0)], false)
  const came = { ...many, faceVertices: many.faceVertices.slice().reverse() }
  expect(rotatedPolygons(many, came, REACH)).toBeNull()
  const square = loose([SQUARE], false)
  for (const corners of [
    [0, 0, 2, 3],
    [1, 1, 1, 1],
  ])
    // prettier-ignore
    expect(rotatedPolygons(square, { ...square, faceVertices: Uint32Array.from(corners) }, REACH)).toBeNull()
})
