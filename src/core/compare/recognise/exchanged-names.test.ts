/** Parts under each other’s names, resized: they are known by their polygons. */
import { expect, test } from 'vitest'
import { ballOf, gridOf, sceneOf, tubeOf } from '../../../../tests/solids.ts'
import { withMesh } from '../../../../tests/arranged.ts'
import { flatten } from '../../practice/faults/scene-faults.ts'
import type { Scene } from '../../scene/scene.ts'
import { recogniseReturn } from './recognise-return.ts'

const NAMES = ['tube', 'cloth', 'ball']
const master = flatten(
  sceneOf([
    { ...tubeOf(5, 9, 0.6, 2), name: 'tube' },
    { ...gridOf(7, 5, { uvSets: [] }), name: 'cloth' },
    { ...ballOf(6, 8, 1), name: 'ball' },
  ]),
)
const named = (scene: Scene, names: readonly string[]): Scene => ({
  ...scene,
  nodes: scene.nodes.map((node, at) => ({ ...node, name: names[at]! })),
})
test.each([false, true])(
  'names that were exchanged in a file a hundred times as large; undone: %s',
  (undoWhole) => {
    const sized = withMesh(named(master, ['cloth', 'ball', 'tube']), (mesh) => ({ ...mesh, points: mesh.points.map((one) => 100 * one) })) // prettier-ignore
    const { matching, returned } = recogniseReturn(master, sized, { undoWhole })
    const found = matching.matched.map(({ match, correspondence }) => [
      master.nodes[match.masterNode]!.name,
      returned.nodes[match.returnedNode]!.name,
      correspondence.matchedFaceCount,
    ])
    const counts = master.meshes.map(({ faceOffsets }) => faceOffsets.length - 1)
    expect(found).toEqual(NAMES.map((name, at) => [name, ['cloth', 'ball', 'tube'][at], counts[at]]))
  },
)
