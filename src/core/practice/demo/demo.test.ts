import { describe, expect, test } from 'vitest'
import { inspectMesh } from '../../inspect/inspect-scene.ts'
import { buildEdges } from '../../mesh/relations/adjacency.ts'
import { computeFaceNormals } from '../../mesh/relations/face-normals.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { buildCourierHeron } from './courier-heron.ts'
import { runChecks } from '../../checks/run-checks.ts'
import { buildMooringBollard } from './mooring-bollard.ts'
import { drawnSurface } from '../../surfaces/one-map/drawn-surface.ts'
import { coverTexels } from '../../uv/texels/cover-texels.ts'
import { buildSignalKite } from './signal-kite.ts'
import { buildStormLantern } from './storm-lantern.ts'

/** Signed volume by the divergence theorem: positive where faces look outward. */
function volumeOf(mesh: Mesh): number {
  const normals = computeFaceNormals(mesh)
  let volume = 0
  for (let face = 0; face + 1 < mesh.faceOffsets.length; face++) {
    const start = mesh.faceOffsets[face]!
    const size = mesh.faceOffsets[face + 1]! - start
    for (let axis = 0; axis < 3; axis++) {
      let middle = 0
      for (let corner = start; corner < start + size; corner++)
        middle += mesh.points[3 * mesh.faceVertices[corner]! + axis]! / size
      volume += (middle * normals[3 * face + axis]!) / 6
    }
  }
  return volume
}

describe.each([
  ['heron', buildCourierHeron, 12, 5],
  ['lantern', buildStormLantern, 7, 4],
])('the %s', (_name, build, parts, materials) => {
  const scene = build()
  test('has its parts, materials, and maps that are PNG images', () => {
    expect([scene.nodes.length, scene.materials.length]).toEqual([parts, materials])
    for (const material of scene.materials) expect(material.maps.length).toBeGreaterThan(0)
    for (const image of scene.images)
      expect([...image.bytes!.subarray(0, 4)]).toEqual([0x89, 0x50, 0x4e, 0x47])
  })
  test.each(scene.meshes.map((mesh) => [mesh.name, mesh] as const))(
    '%s is all quads, mapped, and looks outward',
    (name, mesh) => {
      const inspection = inspectMesh(scene, mesh)
      expect([inspection.faces['3'], inspection.faces.n]).toEqual([0, 0])
      expect(inspection.uvSets[0]!.mappedCorners).toBe(inspection.corners)
      const { edgeSides } = buildEdges(mesh)
      const border = edgeSides.filter((sides) => sides !== 2).length
      // only the glass chimney is open, at both ends
      expect([name, border]).toEqual([name, name === 'chimney' ? 80 : 0])
      if (name !== 'chimney') expect(volumeOf(mesh)).toBeGreaterThan(0)
    },
  )
})

test('the kite: four UV sets on its sail, one of them without overlaps for all parts, sewn panels as groups', () => {
  const scene = buildSignalKite()
  const [sail] = scene.meshes
  expect(sail!.uvSets.map(({ name }) => name)).toEqual(['cloth', 'shade', 'mark', 'flat'])
  expect(sail!.groups!.names).toEqual(['panel top', 'panel left', 'panel bottom', 'panel right'])
  for (const mesh of scene.meshes) {
    const inspection = inspectMesh(scene, mesh)
    expect([mesh.name, inspection.faces['3'], inspection.faces.n]).toEqual([mesh.name, 0, 0])
    expect(mesh.uvSets.at(-1)!.name).toBe('flat')
  }
  // four panels that are sewn have one border round all of them
  const { edgeSides } = buildEdges(sail!)
  expect(edgeSides.filter((sides) => sides === 1)).toHaveLength(8 * 12)
  expect(edgeSides.some((sides) => sides > 2)).toBe(false)
  const { tiles, uvs } = drawnSurface(scene, 'flat', () => true)
  expect(tiles.map(({ label }) => label)).toEqual(['1001'])
  expect(coverTexels(uvs, 512).sharedCount).toBe(0)
})

test.each([
  ['heron', buildCourierHeron],
  ['lantern', buildStormLantern],
])('the %s gives no cause for doubt: islands apart, one scale a material', (_name, build) => {
  expect(runChecks(build()).filter((finding) => finding.severity !== 'info')).toEqual([])
})

test('beak and goggles are creased, eyes are twins', () => {
  const scene = buildCourierHeron()
  const find = (name: string): Mesh => scene.meshes.find((mesh) => mesh.name === name)!
  expect(find('beak').creases!.edgeSharpness.length).toBeGreaterThan(100)
  expect(find('goggles').creases!.edgeSharpness.length).toBeGreaterThan(100)
  expect(find('eye_left').points.length).toBe(find('eye_right').points.length)
})

test('the bollard has the faults it is for, each of a kind once or more, and none beside them', () => {
  const found = runChecks(buildMooringBollard()).filter((finding) => finding.severity !== 'info')
  expect(found.map((finding) => [finding.check, finding.problem, finding.count]).sort()).toEqual([
    ['duplicate-faces', 'doubled', 3],
    ['flipped-islands', 'folded', 5],
    ['loose-elements', 'points', 2],
    ['non-manifold', 'edges', 10],
    ['part-names', 'characters', 2],
    ['part-names', 'doubled', 3],
    ['turned-faces', 'turned', 5],
    ['unassigned-faces', 'some', 24],
    ['unwelded-points', 'coincident', 96],
    ['uv-overlaps', 'own', 6],
  ])
})
