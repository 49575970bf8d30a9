import { describe, expect, test } from 'vitest'
import { cubeOf, sceneOf } from '../../../../../tests/solids.ts'
import { removeFaces } from '../../../mesh/rebuilding/edit-faces.ts'
import type { Creases, Mesh, Subdivision } from '../../../scene/mesh.ts'
import { compareScenes } from '../../compare-scenes.ts'

const cube = cubeOf()
const [a, b, c, d] = [...cube.faceVertices.subarray(0, 4)] as [number, number, number, number]
const creased = (edges: readonly (readonly [number, number, number])[], corners: readonly (readonly [number, number])[] = []): Creases => ({
  edgePoints: Uint32Array.from(edges.flatMap(([from, to]) => [from, to])),
  edgeSharpness: Float64Array.from(edges, ([, , sharpness]) => sharpness),
  cornerPoints: Uint32Array.from(corners, ([point]) => point),
  cornerSharpness: Float64Array.from(corners, ([, sharpness]) => sharpness),
}) // prettier-ignore
const cellOf = (master: Partial<Mesh>, returned: Partial<Mesh>) =>
  compareScenes(sceneOf([{ ...cube, ...master }]), sceneOf([{ ...cube, ...returned }])).rows[0]!.cells
    .creases!

describe('how a part is subdivided', () => {
  const of = (subdivision: Partial<Subdivision>): Partial<Mesh> => ({
    subdivision: { scheme: 'catmull-clark', levels: 2, ...subdivision },
  })
  test.each([
    [{}, of({}), 'not at all', 'catmull-clark to level 2'],
    [of({}), of({ scheme: 'loop', levels: 1 }), 'catmull-clark to level 2', 'loop to level 1'],
    [of({}), of({ renderLevels: 4 }), 'catmull-clark to level 2', 'catmull-clark to level 2, level 4 for rendering'],
    [of({ boundary: 'edge-only' }), of({ boundary: 'edge-and-corner' }),
      'catmull-clark to level 2, borders rounded at corners', 'catmull-clark to level 2, borders with sharp corners'],
  ])('%#', (master, returned, from, to) => {
    const { state, note, parameters } = cellOf(master, returned)
    expect([state, note, parameters]).toEqual(['changed', 'subdivision-changed', { from, to }])
  }) // prettier-ignore
  test('levels without a scheme say nothing, nor do levels for rendering that are those for looking', () => {
    expect(cellOf({}, of({ scheme: 'none', levels: 3 })).empty).toBe(true)
    expect(cellOf(of({}), of({ renderLevels: 2 })).empty).toBe(true)
  })
})

describe('creases', () => {
  const own = creased([[a, b, 2], [b, c, 3]], [[d, 4]]) // prettier-ignore
  test('that are other ones, and those that are new', () => {
    const cell = cellOf({ creases: own }, { creases: creased([[a, b, 2], [b, c, 5], [c, d, 1]], [[d, 4]]) }) // prettier-ignore
    expect([cell.note, cell.parameters, cell.deviation]).toEqual([
      'creases-changed',
      { changed: 1, total: 3, added: 1 },
      2,
    ])
    expect([...cell.places!.master]).toEqual([Math.min(b, c), Math.max(b, c)])
  })
  test('that are gone count by how sharp they were; a corner is told at its point', () => {
    const cell = cellOf({ creases: own }, { creases: creased([[a, b, 2], [b, c, 3]]) }) // prettier-ignore
    expect([cell.parameters.changed, cell.deviation, [...cell.places!.master]]).toEqual([1, 4, [d, d]])
  })
  test('a hair otherwise are the same within the tolerance', () => {
    expect(
      cellOf({ creases: own }, { creases: creased([[a, b, 2.00001], [b, c, 3]], [[d, 4]]) }).state,
    ).toBe('within') // prettier-ignore
    expect(cellOf({ creases: own }, { creases: own }).state).toBe('same')
  })
  test('of polygons that are gone have no counterpart, and are not changed', () => {
    // both faces at the edge from a to b
    const sides = Array.from({ length: 6 }, (_value, face) => [
      ...cube.faceVertices.subarray(4 * face, 4 * face + 4),
    ])
    const gone = Uint8Array.from(sides, (points) => (points.includes(a) && points.includes(b) ? 1 : 0))
    const master = { ...cube, creases: creased([[a, b, 2], [c, d, 3]]) } // prettier-ignore
    const returned = { ...removeFaces(master, gone), creases: creased([[c, d, 3]]) } // prettier-ignore
    expect(returned.points).toHaveLength(master.points.length)
    const { creases } = compareScenes(sceneOf([master]), sceneOf([returned])).rows[0]!.cells
    expect([creases!.state, creases!.parameters]).toEqual(['without', { without: 1, total: 2 }])
    // where the polygons are there, it is gone
    const bare = { ...master, creases: creased([[c, d, 3]]) } // prettier-ignore
    expect(compareScenes(sceneOf([master]), sceneOf([bare])).rows[0]!.cells.creases!.state).toBe('changed')
  })
})
