/** What a result has wrong that the master has not, and seams that a whole polygon can't hold: told before it is kept. */
import { expect, test } from 'vitest'
import { newFindings } from '../../src/app/new-findings.ts'
import { TASKS } from '../../src/app/tasks.ts'
import { describeScene } from '../../src/app/describe.ts'
import { plainSources, rebuildMesh } from '../../src/core/mesh/rebuilding/rebuild-mesh.ts'
import { reconcile } from '../../src/core/reconcile/reconcile.ts'
import { completeIds } from '../../src/core/scene/ids.ts'
import type { Mesh } from '../../src/core/scene/mesh.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { gridOf, sceneOf } from '../solids.ts'

/** A sheet of two by two quads with its plain layout. */
const sheet = gridOf(2, 2)
const uvs = (mesh: Mesh, values: readonly number[], indices: readonly number[]): Mesh => ({
  ...mesh,
  uvSets: [
    { name: 'uv', values: Float64Array.from(values), indices: Int32Array.from(indices), depths: null },
  ],
})
const laid = uvs(
  sheet,
  Array.from(
    { length: 2 * (sheet.points.length / 3) },
    (_value, at) => sheet.points[3 * (at >> 1) + (at % 2 ? 2 : 0)]! / 2,
  ),
  [...sheet.faceVertices],
)
const master = completeIds(sceneOf([laid]))
const withMesh = (mesh: Mesh): Scene => ({ ...master, meshes: [{ ...mesh, id: master.meshes[0]!.id }] })

/** Every quad in two triangles, each with corners of its own. */
function cut(mesh: Mesh): Mesh {
  const corners = Array.from({ length: mesh.faceOffsets.length - 1 }, (_face, face) => [0, 1, 2, 0, 2, 3].map((step) => mesh.faceOffsets[face]! + step)).flat() // prettier-ignore
  return rebuildMesh(mesh, {
    pointSources: plainSources(Int32Array.from({ length: mesh.points.length / 3 }, (_point, at) => at)),
    faceOffsets: Uint32Array.from({ length: corners.length / 3 + 1 }, (_offset, at) => 3 * at),
    faceVertices: Uint32Array.from(corners, (corner) => mesh.faceVertices[corner]!),
    cornerSources: plainSources(Int32Array.from(corners)),
    faceSources: Int32Array.from({ length: corners.length / 3 }, (_face, at) => at >> 1),
  })
}

test('reconcile.seam-across: a seam along the diagonal of a polygon that was cut, and only there', () => {
  const triangles = cut(laid)
  const moved = triangles.uvSets[0]!
  // the second triangle of the first quad lies elsewhere in the layout
  const values = [...moved.values]
  const indices = [...moved.indices]
  for (const corner of [3, 4, 5]) {
    const uv = indices[corner]!
    indices[corner] = values.length / 2
    values.push(moved.values[2 * uv]! + 3, moved.values[2 * uv + 1]!)
  }
  const { findings } = reconcile(master, withMesh(uvs(triangles, values, indices)), { take: ['uvs'] })
  expect(findings).toMatchObject([{ code: 'reconcile.seam-across', parameters: { name: master.nodes[0]!.name, count: 1 } }]) // prettier-ignore
  const plain = withMesh(uvs(triangles, values.map((value) => value + 0.25), [...moved.indices])) // prettier-ignore
  expect(reconcile(master, plain, { take: ['uvs'] }).findings).toEqual([])
  // with the polygons taken too the seam has an edge to lie on
  const both = reconcile(master, withMesh(uvs(triangles, values, indices)), { take: ['uvs', 'topology'] })
  expect(both.findings).toEqual([])
})

test('only what there is more of than before is said, part by part, and nothing of what is as it was', () => {
  expect(newFindings(master, master)).toEqual([])
  // all UVs on one point: polygons without area in the UVs
  const folded = withMesh(uvs(laid, [0.5, 0.5], [...laid.faceVertices].fill(0)))
  const found = newFindings(master, folded)
  expect(found).toMatchObject([{ check: 'zero-uv-faces', severity: 'warning', part: master.nodes[0]!.name, count: 4, before: 0 }]) // prettier-ignore
  expect(found[0]!.message).toContain('4 polygons have no area in the UVs')
  // what was wrong before is no news, and what is mended isn't either
  expect(newFindings(folded, folded)).toEqual([])
  expect(newFindings(folded, master)).toEqual([])
})

test('the task tells it beside the result', () => {
  const pack = (scene: Scene) => describeScene(scene, [], false).packed
  const returned = withMesh(uvs(laid, [0.5, 0.5], [...laid.faceVertices].fill(0)))
  const options = { take: ['uvs'] as const }
  const told = TASKS.reconcile(
    { master: pack(master), returned: pack(returned), options, checks: true },
    () => {},
  )
  expect(told.worse.map(({ check, count }) => [check, count])).toEqual([['zero-uv-faces', 4]])
  const none = TASKS.reconcile(
    { master: pack(master), returned: pack(master), options, checks: true },
    () => {},
  )
  expect(none.worse).toEqual([])
})
