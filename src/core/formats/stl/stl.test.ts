/**
 * STL read and written. The files of Debian's assimp-testmodels 5.2.5~ds0-1 are held against a literal reading and three
 * 0.187.0's and assimp 5.2.4's boxes (tests/reference/stl); what is written is read by three's STLLoader and assimp.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { loadAssimp } from '../../../../tests/assimp.ts'
import { anyScene } from '../../../../tests/any-scene.ts'
import { reference } from '../../../../tests/reference/reference.ts'
import { cubeOf, sceneOf } from '../../../../tests/solids.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { boundsOf } from '../../base/math/box.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { TRAITS } from '../../compare/traits/registry.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { completeIds } from '../../scene/ids.ts'
import type { Scene } from '../../scene/scene.ts'
import { readStl } from './read-stl.ts'
import { writeStl } from './write-stl.ts'
import { howMany } from '../../../../tests/how-many.ts'

const MODELS = '/usr/share/assimp/models/STL'
const load = (name: string, options = {}) =>
  readStl({ name, bytes: new Uint8Array(readFileSync(join(MODELS, name))) }, options)
const text = (body: string) => readStl({ name: 'x.stl', bytes: encodeUtf8(body) })
const codes = ({ findings }: { findings: readonly { code: string }[] }): string[] =>
  findings.map(({ code }) => code)
const back = (scene: Scene, options = {}) => {
  const { files, findings, space } = writeStl(scene, 'x.stl', options)
  const read = readStl(files[0]!, { ...space, mirrored: space.handedness === 'left' } as never)
  return { ...read, written: findings, bytes: files[0]!.bytes }
}

interface Told {
  readonly file: string
  readonly literal: {
    readonly solids?: number
    readonly facets?: number
    readonly declaredTriangles?: number
  }
  readonly three: {
    readonly worldBounds: { readonly min: number[]; readonly max: number[] }
    readonly distinctPoints: number
  }
}
const told = readdirSync(join(import.meta.dirname, '../../../../tests/reference/stl'))
  .filter((name) => name.endsWith('.json'))
  .map((name) => reference<Told>(`stl/${name}`))

test.each(told.map((entry) => [entry.file, entry] as const))(
  '%s: triangles, solids, box, points',
  (file, { literal, three }) => {
    const name = file.split('/').pop()!
    const { scene } = load(name)
    const triangles = scene.meshes.reduce((sum, { faceOffsets }) => sum + faceOffsets.length - 1, 0)
    expect(triangles).toBe(literal.facets ?? literal.declaredTriangles)
    expect(scene.meshes).toHaveLength(literal.solids ?? 1)
    const apart = load(name, { join: false }).scene
    const all = Float64Array.from(apart.meshes.flatMap(({ points }) => [...points]))
    const bounds = boundsOf(all)!
    for (const axis of [0, 1, 2]) {
      expect(bounds.min[axis]).toBeCloseTo(three.worldBounds.min[axis]!, 5)
      expect(bounds.max[axis]).toBeCloseTo(three.worldBounds.max[axis]!, 5)
    }
    // joined along sides alone: never fewer than the places that there are
    const points = scene.meshes.reduce((sum, mesh) => sum + mesh.points.length / 3, 0)
    expect(points).toBeGreaterThanOrEqual(three.distinctPoints)
    expect(points).toBeLessThan(1.3 * three.distinctPoints + 1)
  },
)

test('every STL of the package is read', () => {
  const names = readdirSync(MODELS).filter((name) => /\.stl$/i.test(name))
  expect(names.length).toBe(8)
  for (const name of names) expect(load(name).scene.meshes.length).toBeGreaterThan(0)
  // the same spider, in both forms
  const [one, other] = ['Spider_ascii.stl', 'Spider_binary.stl'].map((name) => load(name).scene.meshes[0]!)
  expect(one!.points.length).toBe(other!.points.length)
  expect(codes(load('Spider_ascii.stl'))).toEqual(['stl.turned', 'stl.joined'])
})

describe('text that is not as it should be', () => {
  const FACET =
    'facet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\n'
  test.each([
    ['a word of its own', `solid a\n${FACET}glow 3\nendsolid a\n`, 'stl.word', 1],
    ['a number that is none', `solid a\n${FACET.replace('1 0 0', '1 zero 0')}endsolid\n`, 'stl.number', 1],
    ['a corner of two numbers', `solid a\n${FACET.replace('1 0 0', '1 0')}endsolid\n`, 'stl.few-numbers', 1],
    [
      'four corners',
      `solid a\n${FACET.replace('endloop', 'vertex 1 1 1\nendloop')}${FACET}endsolid\n`,
      'stl.short-face',
      1,
    ],
    [
      'the end in a triangle',
      `solid a\n${FACET}facet normal 0 0 1\nouter loop\nvertex 0 0 0\n`,
      'stl.short-face',
      1,
    ],
    ['a normal that points back', `solid a\n${FACET.replace('0 0 1', '0 0 -1')}endsolid\n`, 'stl.turned', 1],
  ])('%s is told, the rest is read', (_name, body, code, count) => {
    const result = text(body)
    expect(codes(result)).toContain(code)
    expect(result.scene.meshes[0]!.faceOffsets.length - 1).toBe(count)
  })
  test('nothing in it, and nothing at all', () => {
    expect(() => text('solid a\nendsolid a\n')).toThrow(expect.objectContaining({ code: 'file.not-a-model' }))
    expect(() => text('')).toThrow(expect.objectContaining({ code: 'file.empty' }))
  })
  test('a binary that begins like text is binary by its length; one that breaks off is read as far as it goes', () => {
    const { bytes } = back(sceneOf([cubeOf()]))
    bytes.set(encodeUtf8('solid box'), 0)
    expect(readStl({ name: 'x.stl', bytes }).scene.formatVersion).toBe('binary')
    const cut = readStl({ name: 'x.stl', bytes: bytes.slice(0, 84 + 50 * 7 + 20) })
    expect(cut.scene.meshes[0]!.faceOffsets.length - 1).toBe(7)
    expect(cut.findings[0]).toMatchObject({ code: 'stl.cut', parameters: { found: 7, stated: 12 } })
  })
})

describe('files of programs that are not careful', () => {
  const { bytes } = back(sceneOf([cubeOf()]))
  const mesh = readStl({ name: 'x.stl', bytes }).scene.meshes
  test('no count: as many as there is room for, and told', () => {
    const own = bytes.slice()
    own.fill(0, 80, 84)
    const { scene, findings } = readStl({ name: 'x.stl', bytes: own })
    expect(scene.meshes).toEqual(mesh)
    expect(findings).toContainEqual(
      expect.objectContaining({ code: 'stl.uncounted', parameters: { found: 12 } }),
    )
  })
  test('what stands behind is told', () => {
    const { scene, findings } = readStl({ name: 'x.stl', bytes: Uint8Array.from([...bytes, 1, 2, 3]) })
    expect(scene.meshes).toEqual(mesh)
    expect(findings).toContainEqual(
      expect.objectContaining({ code: 'stl.behind', parameters: { behind: 3 } }),
    )
  })
  test.each([
    ['utf16le', [0xff, 0xfe]],
    ['utf16le without a mark', []],
    ['utf8', [0xef, 0xbb, 0xbf]],
  ])('text in %s', (name, mark) => {
    const [own] = writeStl(sceneOf([cubeOf()]), 'x.stl', { form: 'text' }).files
    const wide = name.startsWith('utf16') ? [...own!.bytes].flatMap((byte) => [byte, 0]) : [...own!.bytes]
    const { scene } = readStl({ name: 'x.stl', bytes: Uint8Array.from([...mark, ...wide]) })
    expect(scene.formatVersion).toBe('text')
    expect(scene.meshes[0]!.points).toEqual(
      readStl({ name: 'x.stl', bytes: own!.bytes }).scene.meshes[0]!.points,
    )
  })
})

describe('written and read', () => {
  test('a cube has eight points again, and its name', () => {
    for (const form of ['binary', 'text']) {
      const { scene, written } = back(sceneOf([{ ...cubeOf(), name: 'crate' }]), { form })
      expect([scene.meshes[0]!.points.length, scene.nodes[0]!.name]).toEqual([24, expect.any(String)])
      expect(written.map(({ code }) => code)).toContain('write.not-carried')
    }
  })
  test('colours of polygons in the spare bytes; other spare bytes as they came', () => {
    const colored = sceneOf([
      cubeOf({
        colorSets: [
          {
            name: 'c',
            components: 3,
            per: 'corners',
            values: Float64Array.of(1, 0, 0, 0, 1, 0),
            indices: Int32Array.from({ length: 24 }, (_none, at) => Number(at >= 12)),
          },
        ],
      }),
    ])
    const { scene } = back(colored)
    const [set] = scene.meshes[0]!.colorSets
    expect([...set!.values]).toEqual([1, 0, 0, 0, 1, 0])
    expect([...set!.indices]).toEqual([...Array<number>(18).fill(0), ...Array<number>(18).fill(1)])
    const wuson = load('Wuson.stl').scene
    const [layer] = wuson.meshes[0]!.layers ?? []
    const again = back(wuson).scene.meshes[0]!
    if (layer) expect(again.layers![0]!.values).toEqual(layer.values)
    else expect(again.colorSets).toEqual(wuson.meshes[0]!.colorSets)
  })
  test('scenes of any kind: what was read once is read the same again', () => {
    fc.assert(
      fc.property(anyScene, fc.constantFrom('binary', 'text'), (scene, form) => {
        let once: Scene
        try {
          once = completeIds(back(scene, { form }).scene)
        } catch (error) {
          // polygons of which none is left
          expect((error as { code: string }).code).toBe('file.not-a-model')
          return
        }
        const again = completeIds(back(once, { form }).scene)
        const [before, after] = [fingerprintScene(once), fingerprintScene(again)]
        const traits = TRAITS.filter((trait) => before[trait] !== after[trait])
        expect(traits).toEqual([])
      }),
      { numRuns: howMany(60, 2000), seed: 20261127 },
    )
  })
  test('three and assimp find the same triangles', async () => {
    const { STLLoader } = await import('three/addons/loaders/STLLoader.js')
    const assimp = await loadAssimp('x.stl')
    for (const build of [buildStormLantern, buildMooringBollard])
      for (const form of ['binary', 'text'] as const) {
        const { bytes } = writeStl(build(), 'x.stl', { form }).files[0]!
        const own = readStl({ name: 'x.stl', bytes }, { join: false }).scene.meshes
        const weigh = (values: ArrayLike<number>): number => {
          let sum = 0
          for (let at = 0; at < values.length; at++) sum += ((at % 9) + 1) * values[at]!
          return sum
        }
        const sum = own.reduce((total, { points }) => total + weigh(points), 0)
        const count = own.reduce((total, { points }) => total + points.length, 0)
        const buffer = bytes.buffer.slice(
          bytes.byteOffset,
          bytes.byteOffset + bytes.byteLength,
        ) as ArrayBuffer
        const position = new STLLoader().parse(buffer).getAttribute('position')
        expect(position.array.length).toBe(count)
        expect(Math.abs(weigh(position.array) - sum)).toBeLessThan(1e-4 * Math.abs(sum))
        const { meshes } = assimp(bytes)
        expect(meshes.reduce((total, { faces }) => total + 9 * faces.length, 0)).toBe(count)
      }
  })
})
