/** What three meshes of one make, element by element; and which element is which by way of a third mesh. */
import { describe, expect, test } from 'vitest'
import { gridOf, materialOf, sceneOf, sharedUvs, uvsOf } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import type { Correspondence } from '../../compare/match/correspondence.ts'
import { correspond } from '../../compare/match/correspond.ts'
import { triangulateScene } from '../../formats/arrange/arrange-scene.ts'
import { renumberMesh } from '../../practice/standins/sculptor.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Material } from '../../scene/material.ts'
import { composeOver, turnAround } from './compose.ts'
import { ELEMENT_MERGES, type MergedElements, type Side } from './merge-elements.ts'

const base = gridOf(4, 2)
const none = { base: [], there: [], here: [] }
const merge = (
  trait: 'points' | 'materials' | 'uvs',
  there: Mesh,
  here: Mesh,
  prefer: Side = 'there',
  materials: Readonly<Record<'base' | Side, readonly Material[]>> = none,
  own = base,
): MergedElements | null => ELEMENT_MERGES[trait]!({ base: own, there, here, materials }, prefer)

describe('points', () => {
  const moved = (by: Record<number, number>): Mesh => ({
    ...base,
    points: base.points.map((value, at) => value + (by[at] ?? 0)),
  })
  test('a point is moved as a whole by the side that moved it, one coordinate or all', () => {
    for (const axis of [0, 1, 2]) {
      const found = merge('points', moved({ 1: 5 }), moved({ [3 * 7 + axis]: 2 }))!
      expect([...found.mesh.points]).toEqual([...moved({ 1: 5, [3 * 7 + axis]: 2 }).points])
      expect(found.conflicts).toBe(0)
    }
  })
  test('both moved one alike: no conflict; otherwise one, and the chosen side’s place', () => {
    expect(merge('points', moved({ 4: 2 }), moved({ 4: 2 }))).toMatchObject({ conflicts: 0 })
    const [there, here] = [moved({ 4: 2, 9: 1 }), moved({ 5: 3, 12: 1 })]
    for (const [side, expected] of [
      ['there', moved({ 4: 2, 9: 1, 12: 1 })],
      ['here', moved({ 5: 3, 9: 1, 12: 1 })],
    ] as const) {
      const found = merge('points', there, here, side)!
      expect([found.conflicts, [...found.mesh.points]]).toEqual([1, [...expected.points]])
    }
    // neither mesh was written into
    expect(there.points[12]).toBe(base.points[12])
  })
})

describe('materials', () => {
  const lists = {
    base: [materialOf('tin'), materialOf('zinc')],
    there: [materialOf('zinc'), materialOf('tin'), materialOf('lead')],
    here: [materialOf('tin'), materialOf('brass'), materialOf('zinc'), materialOf('lead')],
  }
  const painted = (list: readonly Material[], names: readonly (string | null)[]): Mesh => ({
    ...base,
    faceMaterials: Int32Array.from(names, (name) => (name === null ? -1 : list.findIndex((own) => own.name === name))), // prettier-ignore
  })
  const was = ['tin', 'tin', 'tin', 'zinc', 'zinc', null, null, 'tin']
  const came = ['tin', 'lead', 'tin', 'zinc', 'lead', null, 'lead', null]
  const is = ['tin', 'tin', 'brass', 'zinc', 'brass', 'tin', 'lead', 'tin']
  const own = painted(lists.base, was)
  const names = ({ mesh, materials }: MergedElements): (string | null)[] =>
    [...mesh.faceMaterials!].map((at) => (at < 0 ? null : materials![at]!.name))
  test.each([
    ['there', ['tin', 'lead', 'brass', 'zinc', 'lead', 'tin', 'lead', null]],
    ['here', ['tin', 'lead', 'brass', 'zinc', 'brass', 'tin', 'lead', null]],
  ] as const)('by name, whatever the numbers are; of both the one from %s', (side, expected) => {
    const found = merge('materials', painted(lists.there, came), painted(lists.here, is), side, lists, own)!
    expect([found.conflicts, names(found)]).toEqual([1, expected])
    // those from there keep their places; only what here alone has is put behind them
    expect(found.materials!.map(({ name }) => name)).toEqual(['zinc', 'tin', 'lead', 'brass'])
  })
  test('taken away here: without one; and where there none was, one is put on', () => {
    const here = painted(lists.here, [null, ...was.slice(1)])
    expect(names(merge('materials', painted(lists.there, was), here, 'there', lists, own)!)).toEqual([null, ...was.slice(1)]) // prettier-ignore
    const bare = { ...base, faceMaterials: null }
    const found = merge('materials', bare, painted(lists.here, ['brass', ...Array(7).fill(null)]), 'there', lists, bare)! // prettier-ignore
    expect([found.conflicts, names(found)]).toEqual([0, ['brass', ...Array(7).fill(null)]])
  })
})

describe('UV islands', () => {
  /** Two islands: the left four polygons and the right four, the second shifted along u by one. */
  const island = (corner: number): 0 | 1 => (Math.floor(corner / 4) % 4 < 2 ? 0 : 1)
  const corners = [...base.faceVertices]
  const plain = corners.map((point, corner): [number, number] => [base.points[3 * point]! + island(corner), -base.points[3 * point + 2]!]) // prettier-ignore
  const sharedBy = new Map<string, number>()
  const values: [number, number][] = []
  const indices = plain.map((uv, corner) => {
    const key = `${uv} ${island(corner)}`
    if (!sharedBy.has(key)) sharedBy.set(key, values.push(uv) - 1)
    return sharedBy.get(key)!
  })
  const set = sharedUvs(values, indices)
  const own: Mesh = { ...base, uvSets: [set] }
  const shifted = (which: (corner: number) => boolean, by: number): Mesh => ({
    ...base,
    uvSets: [uvsOf(plain.map(([u, v], corner): [number, number] => [which(corner) ? u + by : u, v]))],
  })
  const us = (found: MergedElements): number[] => {
    const [uvSet] = found.mesh.uvSets
    return [...uvSet!.indices].map((at, corner) => (at < 0 ? NaN : uvSet!.values[2 * at]! - plain[corner]![0])) // prettier-ignore
  }
  const whole = (left: number, right: number): number[] => corners.map((_point, corner) => (island(corner) ? right : left)) // prettier-ignore
  test('each side’s own island: both; a corner of an island moved here takes the whole of it', () => {
    const there = shifted((corner) => island(corner) === 0, 10)
    const found = merge('uvs', there, shifted((corner) => island(corner) === 1, 20), 'there', none, own)! // prettier-ignore
    expect([found.conflicts, us(found)]).toEqual([0, whole(10, 20)])
    const single = merge(
      'uvs',
      there,
      shifted((corner) => corner === 8, 20),
      'there',
      none,
      own,
    )!
    expect([single.conflicts, us(single)]).toEqual([0, whole(10, 0).map((by, corner) => (corner === 8 ? 20 : by))]) // prettier-ignore
  })
  test('one island otherwise on both sides: a conflict, and the chosen one’s', () => {
    const there = shifted(() => true, 10)
    const here = shifted((corner) => island(corner) === 1, 20)
    expect(us(merge('uvs', there, here, 'there', none, own)!)).toEqual(whole(10, 10))
    expect(us(merge('uvs', there, here, 'here', none, own)!)).toEqual(whole(10, 20))
    expect(merge('uvs', there, here, 'here', none, own)!.conflicts).toBe(1)
    // alike on both sides there is nothing to choose
    const alike = merge('uvs', there, there, 'there', none, own)!
    expect([alike.conflicts, us(alike)]).toEqual([0, whole(10, 10)])
    // one half of it by each side: the same island all the same
    const halves = merge('uvs', shifted((corner) => corner < 4, 10), shifted((corner) => corner >= 4 && corner < 8, 20), 'here', none, own)! // prettier-ignore
    expect(halves.conflicts).toBe(1)
  })
  test('UVs taken away on one side', () => {
    const without = { ...own, uvSets: [{ ...set, indices: set.indices.map((at, corner) => (island(corner) ? -1 : at)) }] } // prettier-ignore
    expect(us(merge('uvs', own, without, 'there', none, own)!)).toEqual(whole(0, NaN))
    expect(us(merge('uvs', without, own, 'there', none, own)!)).toEqual(whole(0, NaN))
    expect(merge('uvs', without, without, 'there', none, own)!.conflicts).toBe(0)
    // the first UV of all is one as well
    const first = { ...own, uvSets: [{ ...set, indices: set.indices.map((at, corner) => (island(corner) ? at : -1)) }] } // prettier-ignore
    expect(us(merge('uvs', own, first, 'there', none, own)!)).toEqual(whole(NaN, 0))
    expect(us(merge('uvs', first, own, 'there', none, own)!)).toEqual(whole(NaN, 0))
  })
  test('one corner at the first UV of all, and UVs that were put on', () => {
    const single = merge('uvs', own, shifted((corner) => corner === 0, 7), 'there', none, own)! // prettier-ignore
    expect(us(single)).toEqual(corners.map((_point, corner) => (corner === 0 ? 7 : 0)))
    const there = merge('uvs', shifted((corner) => corner === 0, 7), shifted((corner) => corner === 1, 9), 'there', none, own)! // prettier-ignore
    expect(there.conflicts).toBe(1)
    // what left had none on the second island
    const bare = { ...own, uvSets: [{ ...set, indices: set.indices.map((at, corner) => (island(corner) ? -1 : at)) }] } // prettier-ignore
    expect(us(merge('uvs', bare, own, 'there', none, bare)!)).toEqual(whole(0, 0))
    expect(us(merge('uvs', shifted((corner) => island(corner) === 0, 10), own, 'there', none, bare)!)).toEqual(whole(10, 0)) // prettier-ignore
  })
  test('sets of other names, or more of them, are not laid over each other', () => {
    const other = { ...own, uvSets: [{ ...set, name: 'light' }] }
    const more = { ...own, uvSets: [set, { ...set, name: 'light' }] }
    for (const [there, here] of [
      [other, own],
      [own, other],
      [more, own],
      [own, more],
    ] as const)
      // prettier-ignore
      expect(merge('uvs', there, here, 'there', none, own)).toBeNull()
  })
})

describe('which element is which by way of a third mesh', () => {
  const size = (mesh: Mesh): number[] => [pointCountOf(mesh), faceCountOf(mesh), cornerCountOf(mesh)]
  /** Every pair that is named shows the same place, and a corner the same point of the same polygon. */
  function holds(found: Correspondence, here: Mesh, there: Mesh): void {
    const { pointToReturned, faceToReturned, cornerToReturned } = found
    expect([pointToReturned, faceToReturned, cornerToReturned].map(({ length }) => length)).toEqual(
      size(here),
    )
    pointToReturned.forEach((other, point) => {
      if (other >= 0) expect([...there.points.subarray(3 * other, 3 * other + 3)]).toEqual([...here.points.subarray(3 * point, 3 * point + 3)]) // prettier-ignore
    })
    cornerToReturned.forEach((other, corner) => {
      if (other >= 0) expect(there.faceVertices[other]).toBe(pointToReturned[here.faceVertices[corner]!])
    })
    expect(found.matchedFaceCount).toBe(faceToReturned.filter((face) => face >= 0).length)
    expect([found.pieceToMaster, found.pieceCorners, found.joinedPoints, found.cutFaceCount]).toEqual([null, null, null, 0]) // prettier-ignore
  }
  const bumpy = gridOf(5, 4, {}, (x, z) => Math.sin(3 * x) + Math.cos(2 * z + x))
  test('renumbered on both sides', () => {
    for (let seed = 0; seed < 5; seed++) {
      const [here, there] = [renumberMesh(bumpy, seed), renumberMesh(bumpy, seed + 50)]
      const found = composeOver(correspond(bumpy, here), here, correspond(bumpy, there))
      holds(found, here, there)
      expect([found.kind, found.matchedFaceCount, found.turnedFaceCount]).toEqual(['connectivity', 20, 0])
      expect(found.pointToReturned.includes(-1)).toBe(false)
    }
  })
  test('one side cut the polygons: every piece goes to the whole polygon, and its corners to that one’s', () => {
    const here = triangulateScene(sceneOf([bumpy])).meshes[0]!
    const there = renumberMesh(bumpy, 9)
    const [toHere, toThere] = [correspond(bumpy, here), correspond(bumpy, there)]
    expect(toHere.pieceToMaster).not.toBeNull()
    const found = composeOver(toHere, here, toThere)
    holds(found, here, there)
    expect([found.kind, found.matchedFaceCount]).toEqual(['connectivity', 40])
    found.faceToReturned.forEach((face, piece) => expect(face).toBe(toThere.faceToReturned[piece >> 1]))
    expect(found.cornerToReturned.includes(-1)).toBe(false)
    // the other way round, the pieces are the ones that came back
    const back = turnAround(correspond(bumpy, here), here)
    holds(back, here, bumpy)
    expect([back.kind, back.matchedFaceCount, [...back.faceToReturned]]).toEqual([
      'partial',
      40,
      Array.from({ length: 40 }, (_f, piece) => piece >> 1),
    ])
    expect(back.cornerToReturned.includes(-1)).toBe(false)
  })
  test('corners of pieces: the first one’s too, and what no corner was cut from keeps what it has', () => {
    const here = triangulateScene(sceneOf([bumpy])).meshes[0]!
    const [toHere, toThere] = [correspond(bumpy, here), correspond(bumpy, bumpy)]
    const pieceCorners = toHere.pieceCorners!
    const first = pieceCorners.indexOf(0)
    expect(first).toBeGreaterThanOrEqual(0)
    expect(composeOver(toHere, here, toThere).cornerToReturned[first]).toBe(0)
    const own = toHere.cornerToReturned.findIndex((corner) => corner >= 0)
    const cut = toHere.cornerToReturned[own]!
    const found = composeOver({ ...toHere, pieceCorners: pieceCorners.map((corner, at) => (at === cut ? -1 : corner)) }, here, toThere) // prettier-ignore
    expect(found.cornerToReturned[cut]).toBe(own)
    const unknown = composeOver({ ...toHere, cornerToReturned: new Int32Array(80).fill(-1), pieceCorners: new Int32Array(120).fill(-1) }, here, toThere) // prettier-ignore
    expect([...unknown.cornerToReturned]).toEqual(Array(120).fill(-1))
  })
  test('what is no piece of any polygon has none for being one', () => {
    const here = triangulateScene(sceneOf([bumpy])).meshes[0]!
    const [toHere, toThere] = [correspond(bumpy, here), correspond(bumpy, bumpy)]
    const firsts = new Set(toHere.faceToReturned)
    const second = toHere.pieceToMaster!.findIndex((_face, piece) => !firsts.has(piece))
    const own = { ...toHere, pieceToMaster: toHere.pieceToMaster!.map((face, piece) => (piece === second ? -1 : face)) } // prettier-ignore
    expect(composeOver(own, here, toThere).faceToReturned[second]).toBe(-1)
    expect(composeOver(own, here, toThere).matchedFaceCount).toBe(39)
    const back = turnAround(own, here)
    expect([back.faceToReturned[second], back.matchedFaceCount]).toEqual([-1, 39])
    // and one that is the first of its polygon is that polygon's all the same
    const first = toHere.faceToReturned[3]!
    const without = { ...toHere, pieceToMaster: toHere.pieceToMaster!.map((face, piece) => (piece === first ? -1 : face)) } // prettier-ignore
    expect(composeOver(without, here, toThere).faceToReturned[first]).toBe(3)
    expect(turnAround(without, here).faceToReturned[first]).toBe(3)
  })
  test('points that one side split go with the one that they were split from', () => {
    const split: Mesh = { ...bumpy, points: Float64Array.from([...bumpy.faceVertices].flatMap((point) => [...bumpy.points.subarray(3 * point, 3 * point + 3)])), faceVertices: Uint32Array.from({ length: 80 }, (_c, at) => at) } // prettier-ignore
    const toHere = correspond(bumpy, split)
    expect(toHere.joinedPoints).not.toBeNull()
    const there = renumberMesh(bumpy, 4)
    const found = composeOver(toHere, split, correspond(bumpy, there))
    holds(found, split, there)
    expect([found.kind, found.pointToReturned.includes(-1)]).toEqual(['connectivity', false])
    const back = turnAround(toHere, split)
    holds(back, split, bumpy)
    expect(back.pointToReturned.includes(-1)).toBe(false)
  })
  test('what either side has lost has no counterpart, and then it is no whole', () => {
    const chance = chanceOf(7)
    const toHere = correspond(bumpy, bumpy)
    const lost = (map: Int32Array): Int32Array => map.map((own) => (chance() < 0.2 ? -1 : own))
    const less = { ...toHere, pointToReturned: lost(toHere.pointToReturned), faceToReturned: lost(toHere.faceToReturned), cornerToReturned: lost(toHere.cornerToReturned) } // prettier-ignore
    for (const [a, b] of [
      [less, toHere],
      [toHere, less],
    ] as const) {
      // prettier-ignore
      const found = composeOver(a, bumpy, b)
      expect(found.kind).toBe('partial')
      expect([found.pointToReturned, found.faceToReturned, found.cornerToReturned]).toEqual([less.pointToReturned, less.faceToReturned, less.cornerToReturned]) // prettier-ignore
      expect(found.matchedFaceCount).toBe(less.faceToReturned.filter((face) => face >= 0).length)
    }
    const pointless = { ...toHere, pointToReturned: less.pointToReturned }
    expect(composeOver(pointless, bumpy, toHere).kind).toBe('partial')
    const faceless = { ...toHere, faceToReturned: less.faceToReturned }
    expect(composeOver(faceless, bumpy, toHere).kind).toBe('partial')
  })
})
