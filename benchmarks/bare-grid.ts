/** What every format can carry of the grid: its points, polygons, UVs and normals. */
import { readFileSync } from 'node:fs'
import { readObj } from '../src/core/formats/obj/read-obj.ts'
import type { Scene } from '../src/core/scene/scene.ts'

/** @param path the OBJ of `make-grid.ts`. */
export function bareGrid(path: string): Scene {
  const { scene } = readObj({ name: 'grid.obj', bytes: readFileSync(path) }, [], { unitMeters: 0.01 })
  return {
    ...scene,
    materials: [],
    meshes: scene.meshes.map((mesh) => ({ ...mesh, smoothing: null, groups: null, faceMaterials: null })),
  }
}
