/** One part with hand-made counterparts: what is counted, and what becomes of materials. */
import { describe, expect, test } from 'vitest'
import { gridOf } from '../../../tests/solids.ts'
import { correspond } from '../compare/match/correspond.ts'
import type { Trait } from '../compare/traits/registry.ts'
import type { MatchedPart } from '../compare/traits/trait.ts'
import { triangulateScene } from '../formats/arrange/arrange-scene.ts'
import { cornerCountOf, type Mesh, type UvSet } from '../scene/mesh.ts'
import { sceneOf } from '../../../tests/solids.ts'
import { backwardMap, forwardMap } from './carry-maps.ts'
import { carryPart } from './carry-part.ts'

const bumpy = gridOf(2, 1, {}, (x, z) => Math.sin(3 * x) + z)
const cut = triangulateScene(sceneOf([bumpy])).meshes[0]!
const found = correspond(bumpy, cut)
const part = (returned: Mesh, more: Partial<typeof found> = {}): MatchedPart =>
  ({
    master: bumpy,
    returned,
    correspondence: { ...found, ...more },
    countedFrom: [0, 0, 0],
  }) as unknown as MatchedPart
const carry = (own: MatchedPart, ...take: Trait[]) =>
  carryPart(
    own,
    new Set(take),
    (material) => material + 5,
    (node) => node,
  )

describe('seams across polygons that came back in pieces', () => {
  const { pieceCorners, cornerToReturned } = found
  /** Corners of a second piece at a place that the first one has too. */
  const doubled = [...pieceCorners!.keys()].filter(
    (corner) => pieceCorners![corner]! >= 0 && cornerToReturned[pieceCorners![corner]!] !== corner,
  )
  /** A UV a corner, of its point; `change` says which index a corner has instead. */
  const uvs = (change: Record<number, number> = {}): UvSet => ({
    name: 'uv',
    values: Float64Array.from([...cut.faceVertices, 0].flatMap((point, corner) => corner === cornerCountOf(cut) ? [9, 9] : [cut.points[3 * point]!, cut.points[3 * point + 2]!])), // prettier-ignore
    indices: Int32Array.from({ length: cornerCountOf(cut) }, (_c, corner) => change[corner] ?? corner),
    depths: null,
  })
  const other = cornerCountOf(cut)
  const count = (set: UvSet | null, more: Partial<typeof found> = {}): number =>
    carry(part({ ...cut, uvSets: set ? [set] : [] }, more), 'uvs').seamsAcross
  test('there is one where a piece has another UV at a corner that another piece has as well, and only there', () => {
    expect(doubled).toHaveLength(4)
    expect(count(uvs())).toBe(0)
    expect(count(null)).toBe(0)
    for (const corner of doubled) expect(count(uvs({ [corner]: other }))).toBe(1)
    // both corners of one diagonal are one polygon, one of each are two
    expect(count(uvs(Object.fromEntries(doubled.slice(0, 2).map((corner) => [corner, other]))))).toBe(1)
    expect(count(uvs(Object.fromEntries(doubled.map((corner) => [corner, other]))))).toBe(2)
    // a corner that one piece alone has is no seam
    const alone = [...pieceCorners!.keys()].filter((corner) => !doubled.includes(corner))
    for (const corner of alone)
      if (!doubled.some((own) => pieceCorners![own] === pieceCorners![corner]))
        expect(count(uvs({ [corner]: other }))).toBe(0)
  })
  test('one UV written twice is one, none beside one is a seam, none beside none is not', () => {
    const first = cornerToReturned[pieceCorners![doubled[0]!]!]!
    expect(count(uvs({ [doubled[0]!]: first }))).toBe(0)
    expect(count(uvs({ [doubled[0]!]: -1 }))).toBe(1)
    expect(count(uvs({ [first]: -1 }))).toBe(1)
    expect(count(uvs({ [first]: -1, [doubled[0]!]: -1 }))).toBe(0)
  })
  test('of corners without counterpart nothing is said, and of whole polygons neither', () => {
    const all = uvs(Object.fromEntries(doubled.map((corner) => [corner, other])))
    expect(count(all, { pieceCorners: pieceCorners!.map(() => -1) })).toBe(0)
    expect(count(all, { cornerToReturned: cornerToReturned.map(() => -1) })).toBe(0)
    expect(count(all, { pieceToMaster: null, pieceCorners: null })).toBe(0)
    const first = { pieceCorners: pieceCorners!.map((own, at) => (at === doubled[0] ? -1 : own)) }
    expect(count(uvs({ [doubled[0]!]: other }), first)).toBe(0)
    expect(count(all, first)).toBe(2)
  })
  test('none is counted where UVs are not taken, or polygons are', () => {
    const all = uvs(Object.fromEntries(doubled.map((corner) => [corner, other])))
    const own = part({ ...cut, uvSets: [all] })
    expect(carry(own, 'points').seamsAcross).toBe(0)
    expect(carry(own, 'uvs', 'topology').seamsAcross).toBe(0)
  })
})

describe('materials of polygons that are taken', () => {
  const returned = { ...cut, faceMaterials: Int32Array.of(1, -1, 0, 2) }
  test('come as the result has them, none stays none', () => {
    const { mesh } = carry(part(returned), 'topology', 'materials')
    expect([...mesh.faceMaterials!]).toEqual([6, -1, 5, 7])
    expect(
      carry(part({ ...cut, faceMaterials: null }), 'topology', 'materials').mesh.faceMaterials,
    ).toBeNull()
  })
  test('are the master’s where they are not taken', () => {
    const master = { ...bumpy, faceMaterials: Int32Array.of(3, 4) }
    const { mesh } = carry({ ...part(returned), master }, 'topology')
    expect([...mesh.faceMaterials!]).toEqual([3, 3, 4, 4])
  })
  test('the part keeps its name and what it is known by', () => {
    const master = { ...bumpy, name: 'own', id: 'own-id', source: 7 as never }
    const { mesh } = carry(
      { ...part({ ...returned, name: 'tool', id: 'x', layers: {} as never }), master },
      'topology',
    )
    expect([mesh.name, mesh.id, mesh.source, mesh.layers]).toEqual(['own', 'own-id', 7, null])
  })
})

test('of pieces each goes with its polygon, the first one among them, and each corner with its place', () => {
  const map = backwardMap(found, cut)
  expect([...map.faces]).toEqual([0, 0, 1, 1])
  map.corners.forEach((corner, own) => {
    expect(corner).toBeGreaterThanOrEqual(0)
    expect(bumpy.faceVertices[corner]).toBe(map.points[cut.faceVertices[own]!])
  })
  // what is known of a piece itself stands before what it was cut from
  const other = { ...found, pieceToMaster: Int32Array.of(1, 1, 0, 0) }
  const firsts = found.faceToReturned
  const faces = [...backwardMap(other, cut).faces]
  firsts.forEach((piece, face) => expect(faces[piece]).toBe(face))
  expect(faces.filter((_face, piece) => !firsts.includes(piece))).toEqual([1, 0])
  const forward = forwardMap(found, cut)
  expect([...forward.faces]).toEqual([...firsts])
  forward.points.forEach((point, own) => expect(forward.sourcePoints[point]).toBe(own))
})
