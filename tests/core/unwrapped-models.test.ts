/**
 * Real models (the open collection of Debian's assimp-testmodels), damaged and noisy, unwrapped with any options: each polygon
 * gets UVs, none is turned over, none vanishes, and nothing lies outside the tile.
 * `SEEDS=500 npx vitest run --project core tests/core/unwrapped-models.test.ts` goes through more of them.
 */
import { readFileSync } from 'node:fs'
import { basename } from 'node:path'
import { expect, test } from 'vitest'
import { QUIET } from '../../src/app/host.ts'
import { readFiles } from '../../src/app/read-files.ts'
import { chanceOf } from '../../src/core/base/math/chance.ts'
import { createMeshFacts } from '../../src/core/mesh/relations/mesh-facts.ts'
import { damage, FAULTS, type FaultName } from '../../src/core/practice/faults/mesh-faults.ts'
import type { Mesh } from '../../src/core/scene/mesh.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { runStep } from '../../src/core/steps/run-steps.ts'
import { NODE_HOST } from '../../src/host/node-host.ts'
import { howMany } from '../how-many.ts'

const MODELS = '/usr/share/assimp/models'
const LETTERS = 'Collada/COLLADA_triangulate.dae'
const FILES = [
  LETTERS,
  'PLY/cube_binary.ply',
  'STL/Spider_binary.stl',
  'STL/sphereWithHole.stl',
  'OBJ/spider.obj',
  'OBJ/WusonOBJ.obj',
  'FBX/huesitos.fbx',
  'FBX/box.fbx',
  'FBX/global_settings.fbx',
]
const SEAMS = ['found', 'hardEdges', 'groups', 'materials', 'angle', 'existing']
const METHODS = ['leastDistortion', 'angles', 'sizes']

const sceneOf = (file: string): Scene =>
  readFiles({ files: [{ name: basename(file), bytes: new Uint8Array(readFileSync(`${MODELS}/${file}`)) }], options: {} }, QUIET, NODE_HOST).scene // prettier-ignore

/** A share of the square of a part's diagonal; polygons with less have no shape that UVs could keep. */
const LEAST_AREA = 1e-10

/** What is wrong with a part's UVs. @param packed they have to lie in the tile. */
function wrongIn(mesh: Mesh, packed: boolean): string[] {
  const set = mesh.uvSets[0]
  if (!set || set.indices.includes(-1)) return [`${mesh.name}: polygons without UVs`]
  const facts = createMeshFacts(mesh)
  const areas = facts.faceAreas()
  const least = LEAST_AREA * facts.diagonal() ** 2
  const { faceOffsets } = mesh
  let [turned, gone] = [0, 0]
  for (let face = 0; face + 1 < faceOffsets.length; face++) {
    const [start, end] = [faceOffsets[face]!, faceOffsets[face + 1]!]
    let area = 0
    for (let corner = start; corner < end; corner++) {
      const [a, b] = [2 * set.indices[corner]!, 2 * set.indices[corner + 1 < end ? corner + 1 : start]!]
      area += set.values[a]! * set.values[b + 1]! - set.values[b]! * set.values[a + 1]!
    }
    if (!(areas[face]! > least)) continue
    if (area < 0) turned++
    if (!(Math.abs(area) > 0)) gone++
  }
  const outside = packed ? set.values.filter((value) => value < -1e-9 || value > 1 + 1e-9).length : 0
  return turned + gone + outside
    ? [`${mesh.name}: ${turned} turned over, ${gone} without area, ${outside} coordinates outside`]
    : []
}

const wrongAfter = (scene: Scene, params: Readonly<Record<string, string | number | boolean>>): string[] =>
  runStep(scene, { step: 'unwrap', params }).scene.meshes.flatMap((mesh) =>
    wrongIn(mesh, params.pack !== false),
  )

test('a deep shape that one cut opens is cut further, where it would lie as nothing', () => {
  expect(wrongAfter(sceneOf(LETTERS), { seams: 'materials', pack: false })).toEqual([])
})

test('any model, whatever was done to it, with any options', () => {
  for (let seed = 0; seed < howMany(12, 500); seed++) {
    const chance = chanceOf(seed)
    const one = <Value>(values: readonly Value[]): Value => values[Math.floor(chance() * values.length)]!
    const faults = (Object.keys(FAULTS) as FaultName[]).filter(() => chance() < 0.1)
    const noise = chance() < 0.4 ? 1e-2 : 0
    // the first is large
    const file = seed % 24 === 0 ? FILES[0]! : one(FILES.slice(1))
    const scene = sceneOf(file)
    const meshes = scene.meshes.map((mesh): Mesh => {
      const own = damage(mesh, faults, chance).mesh
      return { ...own, id: '', points: own.points.map((value) => value + (chance() - 0.5) * noise * (1 + Math.abs(value))) } // prettier-ignore
    })
    const params = { seams: one(SEAMS), method: one(METHODS), angle: 20 + 100 * chance(), distortion: 2 + 20 * chance(), halve: chance() < 0.5, pack: chance() < 0.7, padding: Math.floor(16 * chance()), mapSize: one([256, 1024, 2048]) } // prettier-ignore
    expect(wrongAfter({ ...scene, meshes }, params), `seed ${seed}: ${file}, ${faults.join('+')}, ${JSON.stringify(params)}`).toEqual([]) // prettier-ignore
  }
})
