/** Points that no polygon uses: told by their order where it was kept, else by place, else left open. */
import { describe, expect, test } from 'vitest'
import { gridOf, meshOf, sceneOf, type Point } from '../../../../tests/solids.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { renumberMesh } from '../../practice/standins/sculptor.ts'
import { pointCountOf, type Mesh } from '../../scene/mesh.ts'
import { compareScenes } from '../compare-scenes.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'
import { correspond } from './correspond.ts'

/** A hilly sheet with points that no polygon uses beside it. */
function withLoose(loose: readonly Point[]): Mesh {
  const sheet = gridOf(6, 5, { uvSets: [] }, (x, z) => Math.sin(x) + 0.3 * z)
  return { ...sheet, points: Float64Array.from([...sheet.points, ...loose.flat()]) }
}
const around = (count: number, seed: number): Point[] => {
  const chance = chanceOf(seed)
  return Array.from({ length: count }, () => [10 + 9 * chance(), 9 * chance(), 9 * chance()])
}
/** New number of each point, by numbers that stand in for places. */
function truth(mesh: Mesh, seed: number): number[] {
  const marked = renumberMesh({ ...mesh, points: mesh.points.map((_value, at) => Math.floor(at / 3)) }, seed)
  const newOf: number[] = []
  for (let point = 0; point < pointCountOf(marked); point++) newOf[marked.points[3 * point]!] = point
  return newOf
}
const bent = (mesh: Mesh, by: number): Mesh => ({
  ...mesh,
  points: mesh.points.map((value, at) => value + by * Math.sin(at - (at % 3) + 2 * (at % 3))),
})
const wrongOf = (mesh: Mesh, returned: Mesh, seed: number): { wrong: number; open: number } => {
  const wanted = truth(mesh, seed)
  let [wrong, open] = [0, 0]
  correspond(mesh, returned).pointToReturned.forEach((other, point) => {
    if (other < 0) open++
    else if (other !== wanted[point]) wrong++
  })
  return { wrong, open }
}

describe('points that no polygon uses', () => {
  const mesh = withLoose(around(30, 4))
  test('renumbered, rounded and resized they are found by their places', () => {
    for (let seed = 1; seed < 12; seed++) {
      expect(wrongOf(mesh, renumberMesh(mesh, seed), seed)).toEqual({ wrong: 0, open: 0 })
      const rounded = { ...mesh, points: mesh.points.map((value) => Number(value.toPrecision(6))) }
      expect(wrongOf(mesh, renumberMesh(rounded, seed), seed)).toEqual({ wrong: 0, open: 0 })
    }
  })
  test('moved by little they are the nearest, moved by much they stay open, and none is taken for another', () => {
    const left = [0.01, 0.1, 0.5, 1, 3].map((by) => {
      let all = 0
      for (let seed = 1; seed < 12; seed++) {
        const { wrong, open } = wrongOf(mesh, renumberMesh(bent(mesh, by), seed), seed)
        expect([by, seed, wrong]).toEqual([by, seed, 0])
        all += open
      }
      return all / 11
    })
    expect(left[0]).toBeLessThan(5)
    expect(left[4]).toBeGreaterThan(25)
  })
  test('more than can be held against each other go by their places, where the polygons were sculpted', () => {
    const many = withLoose(around(1500, 9))
    const sheet = gridOf(6, 5).points.length
    const sculpted = {
      ...many,
      points: many.points.map((value, at) =>
        at < sheet ? value + (at % 3 === 1 ? 0.2 : 0) * Math.sin(at) : Number(value.toPrecision(6)),
      ),
    }
    for (const seed of [2, 3])
      expect(wrongOf(many, renumberMesh(sculpted, seed), seed)).toEqual({ wrong: 0, open: 0 })
  })
  test('in the old order they are told by it, however far they moved', () => {
    expect([...correspond(mesh, bent(mesh, 3)).pointToReturned]).toEqual(
      [...mesh.points.keys()].slice(0, pointCountOf(mesh)),
    )
  })
  test('many on one spot, and such that are no numbers, are paired without end or fault', () => {
    const heap = withLoose(Array.from({ length: 3000 }, (): Point => [20, 0, 0]))
    const found = correspond(heap, renumberMesh(heap, 3)).pointToReturned
    expect(found.includes(-1)).toBe(false)
    expect(new Set(found).size).toBe(found.length)
    const broken = withLoose([[NaN, 0, 0], [Infinity, 1, 1], [1, 2, 3]]) // prettier-ignore
    const after = correspond(broken, renumberMesh(broken, 5)).pointToReturned
    expect(after[pointCountOf(broken) - 1]).toBe(truth(broken, 5)[pointCountOf(broken) - 1])
  })
  test('with some gone and some new, only those are told as gone and new', () => {
    const fewer = meshOf(
      Array.from({ length: pointCountOf(mesh) - 2 }, (_, at): Point => [mesh.points[3 * at]!, mesh.points[3 * at + 1]!, mesh.points[3 * at + 2]!]), // prettier-ignore
      Array.from({ length: 30 }, (_, face) => [...mesh.faceVertices.subarray(4 * face, 4 * face + 4)]),
    )
    const returned = renumberMesh({ ...fewer, points: Float64Array.from([...fewer.points, 50, 50, 50]) }, 9)
    const open = [...correspond(mesh, returned).pointToReturned].flatMap((other, point) =>
      other < 0 ? [point] : [],
    )
    expect(open).toEqual([pointCountOf(mesh) - 2, pointCountOf(mesh) - 1])
  })
  test('one that is gone and one that is new elsewhere are not one that moved', () => {
    const one = withLoose([[10, 2, 3]])
    const other = renumberMesh(withLoose([[50, 50, 50]]), 3)
    const found = correspond(one, other).pointToReturned
    expect(found[pointCountOf(one) - 1]).toBe(-1)
    expect([...found].filter((to) => to < 0)).toHaveLength(1)
  })
  test('where all points lie on one spot none is taken twice', () => {
    const spot = withLoose([[0, 0, 0], [0, 0, 0]]) // prettier-ignore
    const flat = { ...spot, points: spot.points.map(() => 0) }
    const known = [...correspond(flat, renumberMesh(flat, 2)).pointToReturned].filter((other) => other >= 0)
    expect(new Set(known).size).toBe(known.length)
  })
  test('the ledger says of a renumbered return that no point moved', () => {
    const master = sceneOf([mesh])
    const { returned, matching } = recogniseReturn(master, sceneOf([renumberMesh(mesh, 7)]), {
      undoWhole: true,
    })
    const { cells } = compareScenes(master, returned, () => {}, matching).rows[0]!
    expect([cells.points!.state, cells.points!.changedCount, cells.topology!.note]).toEqual([
      'same',
      0,
      'renumbered',
    ])
  })
})
