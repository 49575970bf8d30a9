import { expect, test } from 'vitest'
import { buildStormLantern } from '../demo/storm-lantern.ts'
import { writeObj } from '../../formats/obj/write-obj.ts'
import { readPackage } from '../../formats/package/read-package.ts'
import { writeZip } from '../../formats/package/write-zip.ts'
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { carvePoints } from '../faults/carve-points.ts'
import { renumberMesh, sculptFiles } from './sculptor.ts'

const scene = buildStormLantern()
const sent = writeObj(scene, 'lantern.obj').files

test('it forgets what sculpting tools forget, and keeps polygons and the first UV set', () => {
  const { scene: back } = readPackage(sculptFiles(sent))
  back.meshes.forEach((mesh, index) => {
    const before = scene.meshes[index]!
    expect([mesh.smoothing, mesh.creases, mesh.normals, mesh.faceMaterials]).toEqual([null, null, null, null])
    expect([mesh.uvSets.length, mesh.faceOffsets.length, mesh.points.length]).toEqual([
      1,
      before.faceOffsets.length,
      before.points.length,
    ])
    expect(mesh.groups!.names).toContain(`region_${index + 1}`)
  })
  expect(back.materials).toEqual([])
})

test('the carve stays within its strength, really moves, and does not depend on the numbering', () => {
  const [tank] = scene.meshes
  const carved = carvePoints(tank!, 0.02)
  const most = diagonalOf(boundsOf(tank!.points)) * 0.02
  let farthest = 0
  for (let at = 0; at < carved.length; at += 3)
    farthest = Math.max(
      farthest,
      Math.hypot(...[0, 1, 2].map((axis) => carved[at + axis]! - tank!.points[at + axis]!)),
    )
  expect(farthest).toBeLessThanOrEqual(most * (1 + 1e-12))
  expect(farthest).toBeGreaterThan(most / 2)
  const renumbered = renumberMesh(tank!, 5)
  const sum = (points: Float64Array): number => points.reduce((total, value) => total + value, 0)
  expect(sum(carvePoints(renumbered, 0.02))).toBeCloseTo(sum(carved), 8)
})

test('the same seed gives the same bytes, another seed another order; a ZIP is taken as well', () => {
  const bytes = (options: object, files = sent) => sculptFiles(files, options)[0]!.bytes
  expect(bytes({ seed: 1 })).toEqual(bytes({ seed: 1 }))
  expect(bytes({ seed: 1 })).not.toEqual(bytes({ seed: 2 }))
  expect(bytes({}, [{ name: 'sent.zip', bytes: writeZip(sent) }])).toEqual(bytes({}))
})

test('polygons made fewer: none of more corners, all on points of the model, and the more cells the more of them', () => {
  const counts = [10, 30, 90].map((cells) => {
    const { scene: back } = readPackage(sculptFiles(sent, { cells, strength: 0 }))
    expect(back.meshes.map(({ name }) => name)).toEqual(scene.meshes.map(({ name }) => name))
    back.meshes.forEach((mesh, index) => {
      const before = scene.meshes[index]!
      expect(mesh.uvSets).toEqual([])
      expect(mesh.faceOffsets.length).toBeLessThanOrEqual(before.faceOffsets.length)
      const there = new Set(Array.from({ length: before.points.length / 3 }, (_p, at) => Array.from(before.points.subarray(3 * at, 3 * at + 3), (value) => value.toFixed(4)).join())) // prettier-ignore
      for (let at = 0; at < mesh.points.length; at += 3)
        expect(
          there.has(Array.from(mesh.points.subarray(at, at + 3), (value) => value.toFixed(4)).join()),
        ).toBe(true)
    })
    return back.meshes.reduce((sum, mesh) => sum + mesh.faceOffsets.length - 1, 0)
  })
  expect(counts[0]).toBeLessThan(counts[1]!)
  expect(counts[1]).toBeLessThan(counts[2]!)
  expect(counts[2]).toBeLessThan(scene.meshes.reduce((sum, mesh) => sum + mesh.faceOffsets.length - 1, 0))
})
