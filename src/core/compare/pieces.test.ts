/** Polygons that came back in pieces: every piece counts; what has no counterpart is neither changed nor the same. */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { chanceOf } from '../base/math/chance.ts'
import { readText } from '../../../tests/meshes.ts'
import { damage } from '../practice/faults/mesh-faults.ts'
import { gridOf, sceneOf } from '../../../tests/solids.ts'
import type { Scene } from '../scene/scene.ts'
import { compareScenes } from './compare-scenes.ts'
import { noteText, type Trait } from './traits/registry.ts'
import { reconcile } from '../reconcile/reconcile.ts'

/** Made by hand, with the truth in its README. */
const pair = (master: string, returned: string): [Scene, Scene] => {
  const read = (name: string): Scene =>
    readText(readFileSync(join(import.meta.dirname, '../../../tests/reference/returns', name), 'utf8'), {
      unitMeters: 0.01,
    }).scene
  return [read(master), read(returned)]
}
const cellsOf = ([master, returned]: [Scene, Scene]) => compareScenes(master, returned).rows[0]!.cells
const said = (cells: ReturnType<typeof cellsOf>, trait: Exclude<Trait, 'scene'>): [string, string] => [
  cells[trait]!.state,
  noteText(cells[trait]!.note, cells[trait]!.parameters),
]

describe('a second piece that says something else', () => {
  const cells = cellsOf(pair('cut-master.obj', 'cut-pieces-differ.obj'))
  test('is a changed material, smoothing and UV of that polygon', () => {
    expect(said(cells, 'materials')[0]).toBe('changed')
    expect(cells.materials!.changedCount).toBe(1)
    expect(said(cells, 'uvs')[0]).toBe('changed')
    expect(said(cells, 'smoothing')[0]).not.toBe('same')
  })
})

test('an edge loop more: materials are the same wherever there is a counterpart', () => {
  const cells = cellsOf(pair('loop-master.obj', 'loop-cut-in.obj'))
  expect(said(cells, 'materials')).toEqual([
    'without',
    'Unchanged wherever there is a counterpart; 1 of 2 has none.',
  ])
  expect(said(cells, 'topology')[0]).toBe('changed')
})

test('taking the polygons in pieces keeps the UVs of all of them', () => {
  const [master] = pair('cut-master.obj', 'cut-master.obj')
  const mesh = master.meshes[0]!
  // the same, cut by hand: every quad a fan, without its UVs
  const faces: number[][] = []
  for (let face = 0; face + 1 < mesh.faceOffsets.length; face++) {
    const [a, b, c, d] = mesh.faceVertices.subarray(mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!)
    faces.push([a!, b!, c!], [a!, c!, d!])
  }
  const returned: Scene = {
    ...master,
    meshes: [
      {
        ...mesh,
        faceOffsets: Uint32Array.from({ length: faces.length + 1 }, (_face, at) => 3 * at),
        faceVertices: Uint32Array.from(faces.flat()),
        uvSets: [],
        smoothing: null,
        faceMaterials: null,
        groups: null,
        normals: null,
      },
    ],
  }
  const { scene } = reconcile(master, returned, { take: ['topology'] })
  const [set] = scene.meshes[0]!.uvSets
  expect(scene.meshes[0]!.faceVertices).toHaveLength(3 * faces.length)
  expect([...set!.indices].every((uv) => uv >= 0)).toBe(true)
  expect(scene.meshes[0]!.faceMaterials).toHaveLength(faces.length)
})

test('polygons that are gone, turned and in pieces are told apart', () => {
  const grid = gridOf(4, 4)
  const { mesh } = damage(grid, ['deleted', 'triangulated'], chanceOf(3))
  const [row] = compareScenes(sceneOf([grid]), sceneOf([mesh])).rows
  expect(noteText(row!.cells.topology!.note, row!.cells.topology!.parameters)).toBe(
    'Of 16 polygons 1 is gone, 15 are in pieces.',
  )
})
