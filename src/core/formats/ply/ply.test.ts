/**
 * PLY read and written. The files of Debian's assimp-testmodels 5.2.5~ds0-1 are held against a literal reading and three
 * 0.187.0's and assimp 5.2.4's boxes (tests/reference/ply); what is written is read by three's PLYLoader and assimp.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { loadAssimp } from '../../../../tests/assimp.ts'
import { anyScene } from '../../../../tests/any-scene.ts'
import { reference } from '../../../../tests/reference/reference.ts'
import { cubeOf, sceneOf } from '../../../../tests/solids.ts'
import { boundsOf } from '../../base/math/box.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { KelboError } from '../../base/messages/collector.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { TRAITS } from '../../compare/traits/registry.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { completeIds } from '../../scene/ids.ts'
import type { Scene } from '../../scene/scene.ts'
import type { PlyWriteOptions } from './options.ts'
import { readPly } from './read-ply.ts'
import { writePly } from './write-ply.ts'
import { howMany } from '../../../../tests/how-many.ts'

const MODELS = '/usr/share/assimp/models'
const load = (path: string, options = {}) =>
  readPly(
    { name: path.split('/').pop()!, bytes: new Uint8Array(readFileSync(join(MODELS, path))) },
    [],
    options,
  )
const text = (body: string, options = {}, beside: { name: string; bytes: Uint8Array }[] = []) =>
  readPly({ name: 'x.ply', bytes: encodeUtf8(body) }, beside, options)
const codes = ({ findings }: { findings: readonly { code: string }[] }): string[] =>
  findings.map(({ code }) => code)
const FORMS = ['binary', 'binary-big', 'text'] as const

interface Told {
  readonly file: string
  readonly literal: { readonly elements: Record<string, { readonly count: number }> }
  readonly three: {
    readonly worldBounds?: { readonly min: number[]; readonly max: number[] }
    readonly colorSets?: number
  }
  readonly assimp: { readonly worldBounds?: { readonly min: number[]; readonly max: number[] } }
}
const told = readdirSync(join(import.meta.dirname, '../../../../tests/reference/ply'))
  .filter((name) => name.endsWith('.json'))
  .map((name) => reference<Told>(`ply/${name}`))

test('a file that ends with its head is read as empty or refused in words, whatever ends its last line', () => {
  const elements = [
    'element vertex 3\nproperty float x\nproperty float y\nproperty float z',
    'element vertex 0\nproperty float x',
    'element thing 5',
    'element face 2\nproperty list uchar int vertex_indices',
  ]
  for (const element of elements)
    for (const form of ['binary_little_endian', 'binary_big_endian', 'ascii'])
      for (const end of ['', '\n', '\r\n', '\r', 'x'])
        try {
          expect(text(`ply\nformat ${form} 1.0\n${element}\nend_header${end}`).scene.meshes.every(({ points }) => points.length <= 9)).toBe(true) // prettier-ignore
        } catch (error) {
          expect(error).toBeInstanceOf(KelboError)
        }
})

describe.each(told.map((entry) => [entry.file, entry] as const))('%s', (file, { literal, three, assimp }) => {
  if (!literal.elements.vertex) {
    test('is refused in words', () => {
      expect(() => load(file)).toThrow(expect.objectContaining({ code: 'file.empty' }))
    })
    return
  }
  test('as many points and polygons as it states, in the same box', () => {
    const { scene } = load(file, { join: false })
    const [mesh] = scene.meshes
    expect(mesh!.points.length / 3).toBe(literal.elements.vertex!.count)
    expect(mesh!.faceOffsets.length - 1).toBe(literal.elements.face?.count ?? 0)
    expect(mesh!.colorSets.length).toBe(three.colorSets ?? 0)
    const bounds = boundsOf(mesh!.points)!
    for (const other of [three.worldBounds, assimp.worldBounds])
      for (const axis of [0, 1, 2]) {
        expect(bounds.min[axis]).toBeCloseTo(other!.min[axis]!, 5)
        expect(bounds.max[axis]).toBeCloseTo(other!.max[axis]!, 5)
      }
  })
})

test('every PLY of the package is read, those that break off as far as they go', () => {
  const names = readdirSync(join(MODELS, 'PLY')).filter((name) => name.endsWith('.ply'))
  expect(names.length).toBe(8)
  const found = names.map((name) => [name, ...codes(load(`PLY/${name}`))])
  expect(found.filter((entry) => entry.length > 1)).toEqual([
    ['Wuson.ply', 'ply.joined'],
    ['cube_uv.ply', 'ply.joined'],
    ['pond.0.ply', 'ply.cut'],
  ])
})

describe('what a file may hold', () => {
  const TRIANGLE = '0 0 0\n1 0 0\n0 1 0\n'
  const head = (lines: string): string => `ply\nformat ascii 1.0\n${lines}\nend_header\n`
  test('properties in any order, names of the kind that programs have, unknown ones kept', () => {
    const { scene } = text(
      `${head(
        'element vertex 3\nproperty uchar quality\nproperty float z\nproperty double y\nproperty float x\nproperty uchar diffuse_red\nproperty uchar diffuse_green\nproperty uchar diffuse_blue\nproperty float texture_u\nproperty float texture_v\nelement face 1\nproperty int flags\nproperty list uchar int vertex_index',
      )}7 3 2 1 255 0 51 0.5 0.25\n8 6 5 4 0 0 0 0 0\n9 9 8 0.1 0 0 0 1 1\n4 3 2 0 1\n`,
    )
    const [mesh] = scene.meshes
    expect([...mesh!.points]).toEqual([1, 2, 3, 4, 5, 6, 0.1, 8, 9])
    expect([...mesh!.faceVertices]).toEqual([2, 0, 1])
    expect([...mesh!.colorSets[0]!.values.subarray(0, 3)]).toEqual([1, 0, 0.2])
    const [set] = mesh!.uvSets
    expect([...set!.values.subarray(2 * set!.indices[1]!, 2 * set!.indices[1]! + 2)]).toEqual([0.5, 0.25])
    expect(mesh!.layers!.map(({ kind, per, values, whole }) => [kind, per, [...values], whole])).toEqual([
      ['quality', 'points', [7, 8, 9], true],
      ['flags', 'faces', [4], true],
    ])
  })
  test('strips, lines, corners of UVs, a texture by its comment', () => {
    const { scene, findings } = text(
      `${head(
        'comment TextureFile skin.png\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\nelement tristrips 1\nproperty list int int vertex_indices\nelement edge 1\nproperty int vertex1\nproperty int vertex2\nelement light 2\nproperty float power',
      )}0 0 0\n1 0 0\n0 1 0\n1 1 0\n5 0 1 2 3 -1\n0 3\n1\n2\n`,
      {},
      [{ name: 'skin.png', bytes: Uint8Array.of(1) }],
    )
    const [mesh] = scene.meshes
    expect([...mesh!.faceVertices]).toEqual([0, 1, 2, 2, 1, 3])
    expect([...mesh!.lines!.points]).toEqual([0, 3])
    expect(scene.materials[0]!.maps[0]!.file).toBe('skin.png')
    expect(scene.images[0]!.bytes).toEqual(Uint8Array.of(1))
    expect(findings.map(({ code, parameters }) => [code, parameters.element])).toEqual([
      ['ply.left', 'light'],
    ])
  })
  test('UVs of corners: a seam is where they differ', () => {
    const { scene } = text(
      `${head(
        'element vertex 4\nproperty float x\nproperty float y\nproperty float z\nelement face 2\nproperty list uchar int vertex_indices\nproperty list uchar float texcoord',
      )}0 0 0\n1 0 0\n0 1 0\n1 1 0\n3 0 1 2 6 0 0 1 0 0 1\n3 2 1 3 6 0 1 0.5 0 1 1\n`,
    )
    const [set] = scene.meshes[0]!.uvSets
    expect([...set!.indices]).toEqual([0, 1, 2, 2, 3, 4])
  })
  test.each([
    ['a polygon that asks for a point that is not there', '3 0 1 9\n3 0 1 2\n', 'ply.index-out-of-range', 1],
    ['a polygon of two', '2 0 1\n3 0 1 2\n', 'ply.short-face', 1],
    ['a number that is none', '3 0 1 2x\n3 0 1 2\n', 'ply.number', 2],
    ['one polygon too few', '3 0 1 2\n', 'ply.cut', 1],
  ])('%s is told, the rest is read', (_name, faces, code, count) => {
    const result = text(
      `${head('element vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 2\nproperty list uchar int vertex_indices')}${TRIANGLE}${faces}`,
    )
    expect(codes(result)).toEqual([code])
    expect(result.scene.meshes[0]!.faceOffsets.length - 1).toBe(count)
  })
  test.each([
    ['utf16', [0xff, 0xfe], 2],
    ['utf8 with a mark', [0xef, 0xbb, 0xbf], 1],
  ])('text in %s', (_name, mark, width) => {
    const lines = `${head('element vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list uchar int vertex_indices')}${TRIANGLE}3 0 1 2\n` // prettier-ignore
    const bytes = Uint8Array.from([...mark, ...[...lines].flatMap((letter) => [letter.charCodeAt(0), 0].slice(0, width))]) // prettier-ignore
    const { scene } = readPly({ name: 'x.ply', bytes }, [], {})
    expect([...scene.meshes[0]!.points]).toEqual([0, 0, 0, 1, 0, 0, 0, 1, 0])
  })
  test('what a line lacks is nowhere, and told; a list that it leaves out is empty', () => {
    const lines =
      'element vertex 4\nproperty float x\nproperty float y\nproperty float z\nproperty list uchar int near\nelement face 1\nproperty list uchar int vertex_indices'
    const result = text(`${head(lines)}0 0 0 1 7\n1 0 0\n0 1 0 0\n4 5\n3 0 1 2\n`) // prettier-ignore
    expect([...result.scene.meshes[0]!.points]).toEqual([0, 0, 0, 1, 0, 0, 0, 1, 0, 4, 5, NaN])
    expect(result.findings.map(({ code, line }) => [code, line])).toEqual([['ply.few-numbers', 14]])
  })
  test.each([
    ['no form', 'ply\nelement vertex 1\nproperty float x\nend_header\n', 'ply.header'],
    ['a form of its own', 'ply\nformat middle 1.0\nend_header\n', 'ply.header'],
    ['no end', 'ply\nformat ascii 1.0\nelement vertex 1\n', 'ply.header'],
    ['a count that is none', 'ply\nformat ascii 1.0\nelement vertex many\nend_header\n', 'ply.header'],
    [
      'a type of its own',
      'ply\nformat ascii 1.0\nelement vertex 1\nproperty half x\nend_header\n',
      'ply.header',
    ],
    ['nothing in it', 'ply\nformat ascii 1.0\nend_header\n', 'ply.header'],
    [
      'no places',
      'ply\nformat ascii 1.0\nelement vertex 1\nproperty float q\nend_header\n1\n',
      'file.not-a-model',
    ],
    ['another beginning', 'plx\n', 'file.not-a-model'],
    [
      'more points than anyone has',
      'ply\nformat binary_little_endian 1.0\nelement vertex 4000000000\nproperty float x\nproperty float y\nproperty float z\nend_header\n',
      'file.not-a-model',
    ],
  ])('%s is refused in words', (_name, body, code) => {
    expect(() => text(body)).toThrow(expect.objectContaining({ code }))
  })
})

describe('written and read', () => {
  const back = (scene: Scene, options: Partial<PlyWriteOptions> = {}) => {
    const { files, findings, space } = writePly(scene, 'x.ply', options)
    return {
      findings,
      files,
      scene: completeIds(
        readPly(files[0]!, files, { ...space, mirrored: space.handedness === 'left' } as never).scene,
      ),
    }
  }
  test.each(FORMS)(
    'the heron and the bollard, %s: their parts, polygons, UVs, groups and smoothing are the same',
    (form) => {
      for (const build of [buildCourierHeron, buildMooringBollard]) {
        const scene = completeIds(build())
        const { rows } = compareScenes(scene, back(scene, { form }).scene)
        for (const { cells } of rows) {
          for (const trait of ['topology', 'uvs', 'names', 'materials', 'groups'] as const)
            expect([trait, cells[trait]!.state]).toEqual([trait, expect.stringMatching(/^(same|within)$/)])
          // text and doubles leave no bit out
          expect(cells.points!.state).toBe('same')
        }
      }
    },
  )
  test('scenes of any kind: what was read once is read the same again, in each form', () => {
    fc.assert(
      fc.property(anyScene, fc.constantFrom(...FORMS), (scene, form) => {
        const once = back(scene, { form }).scene
        const again = back(once, { form }).scene
        const [before, after] = [fingerprintScene(once), fingerprintScene(again)]
        expect(TRAITS.filter((trait) => before[trait] !== after[trait])).toEqual([])
      }),
      { numRuns: howMany(60, 2000), seed: 20261127 },
    )
  })
  test('what the format has no words for is told', () => {
    const scene = sceneOf([
      cubeOf({
        creases: {
          edgePoints: Uint32Array.of(0, 1),
          edgeSharpness: Float64Array.of(3),
          cornerPoints: new Uint32Array(0),
          cornerSharpness: new Float64Array(0),
        },
      }),
    ])
    expect(back(scene).findings.map(({ parameters }) => parameters.what)).toEqual(['creases and subdivision'])
  })
  test('parts that a tool has put together are one, and nothing is made up', () => {
    const { files } = writePly(sceneOf([cubeOf(), cubeOf({}, 1, [5, 0, 0])]), 'x.ply', { form: 'text' })
    const body = new TextDecoder().decode(files[0]!.bytes)
    expect(text(body).scene.meshes).toHaveLength(2)
    const changed = body.replace(/part 8 points/, 'part 9 points')
    expect(changed).not.toBe(body)
    expect(text(changed).scene.meshes).toHaveLength(1)
  })
  test('three and assimp find the same corners', async () => {
    const { PLYLoader } = await import('three/addons/loaders/PLYLoader.js')
    const assimp = await loadAssimp('x.ply')
    const scene = buildMooringBollard()
    for (const form of ['binary', 'text'] as const) {
      const { bytes } = writePly(scene, 'x.ply', { form, exact: false, triangulate: true }).files[0]!
      const own = readPly({ name: 'x.ply', bytes }, []).scene.meshes
      const sum = own.reduce(
        (total, { faceVertices, points }) =>
          faceVertices.reduce(
            (part, point) =>
              part + points[3 * point]! + 2 * points[3 * point + 1]! + 3 * points[3 * point + 2]!,
            total,
          ),
        0,
      )
      const corners = own.reduce((total, { faceVertices }) => total + faceVertices.length, 0)
      const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer
      const geometry = new PLYLoader().parse(buffer)
      const position = geometry.getAttribute('position')
      // UVs of corners make it take the points apart
      const index = geometry.getIndex() ?? { count: position.count, getX: (at: number) => at }
      expect(index.count).toBe(corners)
      let others = 0
      for (let at = 0; at < index.count; at++) {
        const point = index.getX(at)
        others += position.getX(point) + 2 * position.getY(point) + 3 * position.getZ(point)
      }
      expect(Math.abs(others - sum)).toBeLessThan(1e-4 * Math.abs(sum))
      const [mesh] = assimp(bytes).meshes
      expect(mesh!.faces.flat()).toHaveLength(corners)
      const third = mesh!.faces
        .flat()
        .reduce(
          (total, at) =>
            total +
            mesh!.vertices[3 * at]! +
            2 * mesh!.vertices[3 * at + 1]! +
            3 * mesh!.vertices[3 * at + 2]!,
          0,
        )
      expect(Math.abs(third - sum)).toBeLessThan(1e-4 * Math.abs(sum))
    }
  })
})
