/** What was given to a part of a polygon after it was refined is not called what it was. */
import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, materialOf, sceneOf } from '../../../../tests/solids.ts'
import { renumbered } from '../../../../tests/arranged.ts'
import { removeFaces } from '../../mesh/rebuilding/edit-faces.ts'
import { subdivideLoop } from '../../mesh/subdividing/subdivide-loop.ts'
import { subdivideMesh } from '../../mesh/subdividing/subdivide-mesh.ts'
import { EMPTY_MESH, faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { runStep } from '../../steps/run-steps.ts'
import { compareScenes } from '../compare-scenes.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'
import { createTelling } from './telling-face.ts'

const MATERIALS = [materialOf('brass'), materialOf('paint')]
const inScene = (mesh: Mesh): ReturnType<typeof sceneOf> => ({ ...sceneOf([mesh]), materials: MATERIALS })

const labelled = (mesh: Mesh): Mesh => ({
  ...mesh,
  faceMaterials: new Int32Array(faceCountOf(mesh)),
  groups: { names: ['all', 'chosen'], sets: [[0], [1]], faceSets: new Int32Array(faceCountOf(mesh)) },
  smoothing: { kind: 'groups', faceGroups: new Int32Array(faceCountOf(mesh)).fill(1) },
})
const CHANGES = {
  materials: (mesh: Mesh, face: number): Mesh => ({
    ...mesh,
    faceMaterials: mesh.faceMaterials!.with(face, 1),
  }),
  groups: (mesh: Mesh, face: number): Mesh => ({ ...mesh, groups: { ...mesh.groups!, faceSets: mesh.groups!.faceSets.with(face, 1) } }), // prettier-ignore
  smoothing: (mesh: Mesh, face: number): Mesh =>
    mesh.smoothing?.kind === 'groups' ? { ...mesh, smoothing: { ...mesh.smoothing, faceGroups: mesh.smoothing.faceGroups.with(face, 2) } } : mesh, // prettier-ignore
}

const bumpy = gridOf(4, 3, {}, (x, z) => 0.2 * x * x + 0.1 * z)
const triangles = runStep(sceneOf([bumpy]), { step: 'triangulate', params: {} }).scene.meshes[0]!
const refine = (mesh: Mesh, levels: number): Mesh =>
  subdivideMesh(mesh, { levels, uvMode: 'all', sharpCorners: false })
const cut = (mesh: Mesh): Mesh => runStep(inScene(mesh), { step: 'triangulate', params: {} }).scene.meshes[0]!
const inFour = (mesh: Mesh): Mesh => {
  const refined = subdivideLoop(mesh.points, mesh.faceVertices, {
    levels: 1,
    smooth: true,
    sharpCorners: false,
  })
  const count = refined.triangles.length / 3
  return { ...EMPTY_MESH, name: mesh.name, points: refined.points, faceVertices: refined.triangles, faceOffsets: Uint32Array.from({ length: count + 1 }, (_offset, at) => 3 * at) } // prettier-ignore
}
/** Of which of the master's polygons a finer one is told by its number, before anything is numbered anew. */
const KINDS: readonly (readonly [string, Mesh, (mesh: Mesh) => Mesh])[] = [
  ['into quads', labelled(cubeOf()), (mesh) => refine(mesh, 1)],
  ['into quads twice', labelled(cubeOf()), (mesh) => refine(mesh, 2)],
  ['into quads that were cut', labelled(bumpy), (mesh) => cut(refine(mesh, 1))],
  ['triangles into four', labelled({ ...triangles, uvSets: [] }), (mesh) => labelled(inFour(mesh))],
  ['into quads, one deleted', labelled(bumpy), (mesh) => removeFaces(refine(mesh, 2), new Uint8Array(16 * 12).fill(1, 191), { dropLoose: true })], // prettier-ignore
]

describe.each(KINDS)('%s', (_kind, master, refined) => {
  test.each(Object.keys(CHANGES) as (keyof typeof CHANGES)[])('%s of one finer polygon', (trait) => {
    for (const face of [0, 3, 10]) {
      const came = renumbered(CHANGES[trait](refined(master), face), face + 1)
      const { matching, returned } = recogniseReturn(inScene(master), inScene(came))
      expect(matching.matched[0]!.match.levels).toBeGreaterThan(0)
      const [row] = compareScenes(inScene(master), returned, () => {}, matching).rows
      const { state } = row!.cells[trait]!
      expect(state).toBe('changed')
    }
  })

  test('nothing else', () => {
    const { matching, returned } = recogniseReturn(inScene(master), inScene(renumbered(refined(master), 7)))
    const [row] = compareScenes(inScene(master), returned, () => {}, matching).rows
    for (const trait of ['materials', 'groups'] as const)
      expect(['same', 'within', 'without']).toContain(row!.cells[trait]!.state)
  })
})

test('of several kinds the fewest tell, of as many the last of them, and alike ones are told by the first', () => {
  const mesh: Mesh = { ...EMPTY_MESH, faceMaterials: Int32Array.of(0, 0, 0, 1, 2, 2, 0, 1) }
  const tellingFace = createTelling(mesh)
  expect(tellingFace([0, 1, 2])).toBe(0)
  expect(tellingFace([0, 1, 3, 2])).toBe(3)
  expect(tellingFace([4, 5, 3])).toBe(3)
  expect(tellingFace([0, 3])).toBe(3)
  expect(tellingFace([5])).toBe(5)
  // without labels any tells it
  expect(createTelling(EMPTY_MESH)([6, 7])).toBe(6)
})
