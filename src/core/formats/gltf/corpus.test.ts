/**
 * glTF files of Debian's assimp-testmodels 5.2.5~ds0-1 against what others say of them (tests/reference/gltf): a literal
 * reading decides on counts, names and bounds of meshes; three 0.187.0 and libassimp 5.2.4 on the box in the world.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import { describe, expect, test } from 'vitest'
import { NODE_DECODERS } from '../../../host/geometry-decoders.ts'
import { reference } from '../../../../tests/reference/reference.ts'
import { boundsOf } from '../../base/math/box.ts'
import { transformPoints } from '../../base/math/matrix.ts'
import { KelboError } from '../../base/messages/collector.ts'
import type { Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import type { PackageFile } from '../package/package-file.ts'
import { readGltf } from './read-gltf.ts'

const MODELS = '/usr/share/assimp/models'
const REFERENCE = join(import.meta.dirname, '../../../../tests/reference/gltf')

interface Told {
  readonly file: string
  readonly literal: {
    readonly assetVersion: string | number
    readonly nodes: number
    readonly materials: readonly (string | null)[]
    readonly cameras: number
    readonly skins: number
    readonly animations: number
    readonly channels: number
    readonly meshList: readonly {
      readonly name: string | null
      readonly primitives: readonly {
        readonly mode: number
        readonly vertices: number
        readonly triangles: number
        readonly min: readonly number[]
        readonly max: readonly number[]
      }[]
    }[]
  }
  readonly three?: { readonly worldBounds?: Bounds; readonly trianglesInstanced?: number }
  readonly assimp?: { readonly worldBounds?: Bounds }
}
interface Bounds {
  readonly min: readonly number[]
  readonly max: readonly number[]
}

const filesBelow = (folder: string): string[] =>
  readdirSync(folder, { withFileTypes: true }).flatMap((entry) =>
    entry.isDirectory() ? filesBelow(join(folder, entry.name)) : [join(folder, entry.name)],
  )
function filesOf(path: string): { model: PackageFile; files: PackageFile[] } {
  const folder = dirname(path)
  const files = filesBelow(folder).map((file) => ({
    name: relative(folder, file),
    bytes: new Uint8Array(readFileSync(file)),
  }))
  return { model: files.find(({ name }) => name === relative(folder, path))!, files }
}
const load = (path: string, join = false) => {
  const { model, files } = filesOf(path)
  return readGltf(model, files, { join }, NODE_DECODERS)
}
function worldBounds(scene: Scene): Bounds {
  const worlds = worldMatrices(scene)
  const points = scene.nodes.flatMap((node, index) =>
    node.mesh < 0 ? [] : [transformPoints(scene.meshes[node.mesh]!.points, worlds[index]!)],
  )
  const all = new Float64Array(points.reduce((sum, own) => sum + own.length, 0))
  let at = 0
  for (const own of points) {
    all.set(own, at)
    at += own.length
  }
  return boundsOf(all)!
}
const near = (actual: readonly number[], expected: readonly number[], share = 2e-6): void => {
  const size = Math.max(1e-3, ...expected.map(Math.abs))
  actual.forEach((value, axis) => expect(Math.abs(value - expected[axis]!) / size).toBeLessThan(share))
}

const told = readdirSync(REFERENCE)
  .filter((name) => name.endsWith('.json') && !name.startsWith('ngon'))
  .map((name) => reference<Told>(`gltf/${name}`))
/** Files of which the numbers are missing, or name other accessors than they should. */
const WITHOUT_NUMBERS = /MissingBin|SchemaFailures|AllIndices|badArray/

describe.each(told.map((entry) => [entry.file, entry] as const))('%s', (file, { literal, three, assimp }) => {
  if (!String(literal.assetVersion).startsWith('2')) {
    test('is refused in words', () => {
      expect(() => load(join(MODELS, file))).toThrow(
        expect.objectContaining({
          code: 'gltf.version',
          parameters: { version: expect.stringMatching(/^1/) as string },
        }),
      )
    })
    return
  }
  if (literal.nodes === 0) {
    test('holds nothing', () => {
      expect(() => load(join(MODELS, file))).toThrow(expect.objectContaining({ code: 'file.not-a-model' }))
    })
    return
  }
  const { scene } = load(join(MODELS, file))
  test('nodes, materials, cameras, skins, channels', () => {
    expect(scene.nodes).toHaveLength(literal.nodes)
    expect(scene.materials.map(({ name }) => name)).toEqual(
      literal.materials.map((name, at) => name ?? `material_${at + 1}`),
    )
    expect(scene.cameras).toHaveLength(
      scene.nodes.length === 82 ? literal.cameras : Math.max(literal.cameras, scene.cameras.length),
    )
    expect(scene.meshes.filter(({ skin }) => skin)).toHaveLength(literal.skins)
    const channels = scene.kept?.sections.reduce((sum, { children }) => sum + children.length, 0) ?? 0
    expect(channels).toBe(literal.channels)
  })
  if (WITHOUT_NUMBERS.test(file)) return
  test('each mesh: triangles, vertices, and its box', () => {
    literal.meshList.forEach(({ primitives }, index) => {
      const mesh = scene.meshes.find(({ source }) => source === String(index))
      if (!mesh) {
        // no node shows it
        expect(scene.nodes.every(({ mesh: shown }) => scene.meshes[shown]?.source !== String(index))).toBe(
          true,
        )
        return
      }
      const sizes = new Set(mesh.faceOffsets.subarray(1).map((end, face) => end - mesh.faceOffsets[face]!))
      expect([...sizes].every((size) => size === 3)).toBe(true)
      const isPacked = file.includes('draco')
      const triangles = primitives.reduce((sum, one) => sum + one.triangles, 0)
      if (isPacked) expect(mesh.faceOffsets.length - 1).toBeLessThanOrEqual(triangles)
      else expect(mesh.faceOffsets.length - 1).toBe(triangles)
      const bounds = boundsOf(mesh.points)!
      const least = [0, 1, 2].map((axis) => Math.min(...primitives.map(({ min }) => min[axis]!)))
      const most = [0, 1, 2].map((axis) => Math.max(...primitives.map(({ max }) => max[axis]!)))
      // compressed positions are rounded to a share of the box
      near(bounds.min, least, isPacked ? 3e-3 : 2e-6)
      near(bounds.max, most, isPacked ? 3e-3 : 2e-6)
    })
  })
  for (const [reader, bounds] of [
    ['three', three?.worldBounds],
    ['assimp', assimp?.worldBounds],
  ] as const)
    if (bounds)
      test(`fills the same box in the world as to ${reader}`, () => {
        const own = worldBounds(scene)
        near(own.min, bounds.min, 1e-3)
        near(own.max, bounds.max, 1e-3)
      })
})

test('more than half of the files are held against a reference', () =>
  expect(told.length).toBeGreaterThan(25))

test('every glTF of the package is read, or refused in words', () => {
  const paths = ['glTF', 'glTF2'].flatMap((folder) =>
    filesBelow(join(MODELS, folder)).filter((path) => /\.(gltf|glb)$/.test(path)),
  )
  const outcomes = paths.map((path) => {
    try {
      return load(path, true).scene.nodes.length > 0 ? 'read' : 'empty'
    } catch (error) {
      return error instanceof KelboError ? error.code : String(error)
    }
  })
  const count = (outcome: string): number => outcomes.filter((own) => own === outcome).length
  expect(paths.length).toBe(53)
  expect([count('read'), count('gltf.version'), count('file.not-a-model')]).toEqual([44, 7, 2])
})

/** assimp wrote them from polygons; `polygonsDecoded` is what the rule of FB_ngon_encoding makes of them. */
test.each(['ngon-box', 'ngon-mixed'])('%s: polygons by the public encoding', (name) => {
  const bytes = new Uint8Array(readFileSync(join(REFERENCE, `${name}.gltf`)))
  const { scene } = readGltf({ name: `${name}.gltf`, bytes }, [])
  const expected = reference<{ polygonsDecoded: Record<string, number> }>(`gltf/${name}.expected.json`)
  const counts: Record<string, number> = {}
  for (const mesh of scene.meshes)
    mesh.faceOffsets.subarray(1).forEach((end, face) => {
      const size = String(end - mesh.faceOffsets[face]!)
      counts[size] = (counts[size] ?? 0) + 1
    })
  expect(counts).toEqual(expected.polygonsDecoded)
})
