/**
 * Mending in the order in which findings are listed comes to an end: no finding offers a mend any more that has been
 * made. Held on the open models of Debian's assimp-testmodels and on made models with mixes of faults; in the long
 * run on larger models and on more that are made.
 */
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { faceCountOf } from '../../src/core/scene/mesh.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { faulty, mendAll } from './made-faults.ts'
import { IN_THE_LONG_RUN, howMany } from '../how-many.ts'

const seeds = howMany(3, 400)
const mostPolygons = IN_THE_LONG_RUN ? 5000 : 500

describe('open models', () => {
  const root = '/usr/share/assimp/models'
  const walk = (folder: string): string[] =>
    readdirSync(folder).flatMap((name) => {
      const path = join(folder, name)
      return statSync(path).isDirectory() ? walk(path) : [path]
    })
  const scenes = walk(root)
    // regr01.obj is a heap of polygons that run through each other: what one mend frees the next finds, for long
    .filter((path) => /\.(obj|fbx)$/i.test(path) && !path.endsWith('regr01.obj'))
    .flatMap((path): [string, Scene][] => {
      const folder = dirname(path)
      const beside = readdirSync(folder)
        .filter((name) => /\.mtl$/i.test(name))
        .map((name) => ({ name, bytes: new Uint8Array(readFileSync(join(folder, name))) }))
      try {
        const own = { name: basename(path), bytes: new Uint8Array(readFileSync(path)) }
        const { scene } = readPackage([own, ...beside])
        const polygons = scene.meshes.reduce((sum, mesh) => sum + faceCountOf(mesh), 0)
        return polygons < mostPolygons ? [[path.slice(root.length + 1), scene]] : []
      } catch {
        // files that are no models are tried elsewhere
        return []
      }
    })
  /** Shapes that a file holds: the same cubes lie in several, and which of them it is hardly matters. */
  const shapesOf = ({ meshes }: Scene): string =>
    meshes.map(({ points, faceVertices }) => `${points.length} ${faceVertices.length}`).join()
  const known = new Map(scenes.map(([path, scene]) => [shapesOf(scene), path]))
  const tried = scenes.filter(([path, scene]) => IN_THE_LONG_RUN || known.get(shapesOf(scene)) === path)
  test('there are some', () => expect(tried.length).toBeGreaterThan(10))
  // every other one on every run
  test.each(tried.filter((_case, at) => IN_THE_LONG_RUN || at % 2 === 0))('%s', (_name, scene) => {
    expect(mendAll(scene).left).toEqual([])
  })
})

describe('made models with mixes of faults', () => {
  test.each(Array.from({ length: seeds }, (_value, seed) => [seed + 1]))('seed %i', (seed) => {
    expect(mendAll(faulty(seed)).left).toEqual([])
  })
})
