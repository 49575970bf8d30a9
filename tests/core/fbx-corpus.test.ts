/**
 * Reading FBX against what others say of the files in Debian's assimp-testmodels 5.2.5~ds0-1.
 *
 * Sources: the literal reading in tests/reference/fbx (node tree, layers, world matrices by the published
 * chain; it decides) and the table in tests/reference/transforms, both copied into tests/reference.
 */
import { createHash } from 'node:crypto'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { readFbx } from '../../src/core/formats/fbx/read-fbx.ts'
import {
  localMatrix,
  rotationMatrix,
  ROTATION_ORDERS,
  type Triple,
} from '../../src/core/formats/fbx/transform-chain.ts'
import { KelboError } from '../../src/core/base/messages/collector.ts'
import { worldMatrices } from '../../src/core/scene/world.ts'
import { faceCountOf, pointCountOf } from '../../src/core/scene/mesh.ts'

const MODELS = '/usr/share/assimp/models'
const REFERENCE = join(import.meta.dirname, '../reference')
const load = <Shape>(path: string): Shape => JSON.parse(readFileSync(join(REFERENCE, path), 'utf8')) as Shape
/** Row-major, as the references have them. */
const rows = (matrix: readonly number[]): number[] =>
  Array.from({ length: 16 }, (_value, at) => matrix[4 * (at % 4) + Math.floor(at / 4)]!)
const near = (found: readonly number[], wanted: readonly number[]): void =>
  wanted.forEach((value, at) =>
    expect(Math.abs(found[at]! - value)).toBeLessThan(1e-6 * Math.max(1, Math.abs(value))),
  )

describe('the transform chain', () => {
  interface Case {
    name: string
    rotationOrderEnum: number
    expected: { rotationOnly: number[]; local: number[] }
    [part: string]: unknown
  }
  const { cases } = load<{ cases: Case[] }>('transforms/fbx-local-transforms.json')
  test('all twelve cases are there', () => expect(cases).toHaveLength(12))
  test.each(cases.map((entry) => [entry.name, entry] as const))('%s', (_name, entry) => {
    const triple = (name: string, fallback: Triple): Triple => (entry[name] as Triple | undefined) ?? fallback
    const zero: Triple = [0, 0, 0]
    near(
      rows(rotationMatrix(triple('lclRotation', zero), ROTATION_ORDERS[entry.rotationOrderEnum]!)),
      entry.expected.rotationOnly,
    )
    near(
      rows(
        localMatrix({
          translation: triple('lclTranslation', zero),
          rotation: triple('lclRotation', zero),
          scaling: triple('lclScaling', [1, 1, 1]),
          rotationOrder: entry.rotationOrderEnum,
          rotationOffset: triple('rotationOffset', zero),
          rotationPivot: triple('rotationPivot', zero),
          preRotation: triple('preRotation', zero),
          postRotation: triple('postRotation', zero),
          scalingOffset: triple('scalingOffset', zero),
          scalingPivot: triple('scalingPivot', zero),
        }),
      ),
      entry.expected.local,
    )
  })
})

interface Reference {
  file: string
  sha256: string
  raw: {
    form: string
    version: number
    globalSettings: Record<string, number>
    geometries: {
      name: string
      type: string
      controlPoints: number
      polygonCorners: number
      polygonsBySize: Record<string, number>
      layers: { type: string; name: string; counts: Record<string, number> }[]
      models: number[]
    }[]
    models: {
      id: number
      name: string
      type: string
      parents: number[]
      materials: string[]
      world: number[]
      geometric?: number[]
    }[]
    materials: { name: string; shadingModel: string; properties: Record<string, number | number[]> }[]
  }
}
const references = readdirSync(join(REFERENCE, 'fbx')).map((name) => load<Reference>(`fbx/${name}`))

test('all six references are there', () => expect(references).toHaveLength(6))
describe.each(references.map((reference) => [reference.file, reference] as const))(
  '%s',
  (path, { sha256, raw }) => {
    const bytes = readFileSync(join(MODELS, path))
    const { scene, findings } = readFbx({ name: path.split('/').pop()!, bytes })
    test('is the same file', () => {
      expect(createHash('sha256').update(bytes).digest('hex')).toBe(sha256)
      expect(scene.formatVersion).toBe(
        `${(raw.version / 1000).toFixed(1)} ${raw.form === 'ascii' ? 'text' : raw.form}`,
      )
      expect(findings.filter((finding) => finding.code === 'fbx.damaged')).toEqual([])
    })
    test('unit and axes', () => {
      const { UnitScaleFactor, UpAxis } = raw.globalSettings
      expect(scene.space.unitMeters).toBeCloseTo((UnitScaleFactor ?? 1) / 100, 12)
      expect(scene.space.upAxis).toBe('xyz'[UpAxis ?? 1])
    })
    test('nodes with their parents, names and world matrices', () => {
      const worlds = worldMatrices(scene)
      expect(scene.nodes.length).toBe(raw.models.length)
      const byId = new Map(raw.models.map((model) => [model.id, model]))
      const chain = (model: Reference['raw']['models'][number]): string => {
        const parent = model.parents.map((id) => byId.get(id)).find(Boolean)
        return parent ? `${chain(parent)}/${model.name}` : model.name
      }
      const path = (node: number): string => {
        const { parent, name } = scene.nodes[node]!
        return parent < 0 ? name : `${path(parent)}/${name}`
      }
      const left = [...raw.models]
      scene.nodes.forEach((_node, index) => {
        // two nodes may have one name under one parent: the one that stands in the same place is meant
        const same = left.filter((model) => chain(model) === path(index))
        expect(same.length).toBeGreaterThan(0)
        const off = (model: (typeof left)[number]): number =>
          Math.max(...model.world.map((value, at) => Math.abs(value - rows(worlds[index]!)[at]!)))
        const best = same.sort((a, b) => off(a) - off(b))[0]!
        near(rows(worlds[index]!), best.world)
        left.splice(left.indexOf(best), 1)
      })
      expect(left).toEqual([])
    })
    test('meshes: points, polygons by size, UV sets that hold something', () => {
      const wanted = raw.geometries
        .filter((geometry) => geometry.type === 'Mesh' && geometry.models.length > 0)
        .map((geometry) => [
          geometry.controlPoints,
          geometry.polygonCorners,
          geometry.polygonsBySize,
          geometry.layers.filter((layer) => layer.type === 'LayerElementUV' && (layer.counts.UV ?? 0) > 0)
            .length,
          geometry.layers.some(
            (layer) => layer.type === 'LayerElementNormal' && (layer.counts.Normals ?? 0) > 0,
          ),
        ])
      const found = scene.meshes.map((mesh) => {
        const sizes: Record<string, number> = {}
        for (let face = 0; face < faceCountOf(mesh); face++) {
          const size = String(mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]!)
          sizes[size] = (sizes[size] ?? 0) + 1
        }
        return [
          pointCountOf(mesh),
          mesh.faceVertices.length,
          sizes,
          mesh.uvSets.length,
          mesh.normals !== null,
        ]
      })
      const sorted = (list: unknown[]): string[] => list.map((entry) => JSON.stringify(entry)).sort()
      expect(sorted(found)).toEqual(sorted(wanted))
      for (const mesh of scene.meshes) {
        expect(mesh.faceVertices.every((point) => point < pointCountOf(mesh))).toBe(true)
        for (const set of mesh.uvSets)
          expect(set.indices.every((uv) => uv >= 0 && uv < set.values.length / 2)).toBe(true)
      }
    })
    test('materials, their numbers, and which node has which', () => {
      expect(scene.materials.map((material) => [material.name, material.model])).toEqual(
        raw.materials.map((material) => [material.name, material.shadingModel.toLowerCase()]),
      )
      raw.materials.forEach((material, at) => {
        for (const [name, value] of Object.entries(material.properties)) {
          const numbers = [value].flat()
          if (!numbers.every((entry) => typeof entry === 'number')) continue
          near(scene.materials[at]!.properties.find((property) => property.name === name)!.values, numbers)
        }
      })
      const named = scene.nodes
        .filter((node) => node.mesh >= 0)
        .map((node) => {
          const used = new Set(scene.meshes[node.mesh]!.faceMaterials ?? [])
          return `${node.name}: ${[...used].map((material) => scene.materials[material]?.name).join()}`
        })
      for (const model of raw.models.filter((entry) => entry.type === 'Mesh' && entry.materials.length === 1))
        expect(named).toContain(`${model.name}: ${model.materials[0]}`)
    })
  },
)

describe('every FBX of the package is read, or refused in words', () => {
  const files = ['FBX', 'FBX/embedded_ascii'].flatMap((folder) =>
    readdirSync(join(MODELS, folder))
      .filter((name) => /\.fbx$/i.test(name))
      .map((name) => `${folder}/${name}`),
  )
  test('there are some twenty of them', () => expect(files.length).toBeGreaterThan(17))
  test('one was once copied as text, its zeros turned to blanks: that is said', () => {
    const bytes = readFileSync(join(MODELS, 'FBX/transparentTest.fbx'))
    expect(() => readFbx({ name: 'x.fbx', bytes })).toThrow(expect.objectContaining({ code: 'fbx.header' }))
  })
  test.each(files.filter((path) => !path.includes('transparentTest')))('%s', (path) => {
    const { scene } = readFbx({ name: path, bytes: readFileSync(join(MODELS, path)) })
    expect(scene.nodes.length).toBeGreaterThan(0)
    for (const mesh of scene.meshes)
      expect(mesh.faceVertices.every((point) => point < pointCountOf(mesh))).toBe(true)
  })
})

describe('what is wrong in a small text file is said with its line', () => {
  const codes = (objects: string, connections = ''): string[] => {
    const text = `; FBX 7.4.0\nFBXHeaderExtension: {\n FBXVersion: 7400\n}\nObjects: {\n${objects}\n}\nConnections: {\n${connections}\n}\n`
    const { findings } = readFbx({ name: 'x.fbx', bytes: new TextEncoder().encode(text) })
    return findings.map((finding) => `${finding.code} ${finding.line ?? finding.byte ?? ''}`.trim())
  }
  const model = 'Model: 1, "Model::crate", "Mesh" {\n}\n'
  const geometry = (inner: string): string =>
    `${model}Geometry: 2, "Geometry::", "Mesh" {\nVertices: *9 {\na: 0,0,0,1,0,0,1,1,0\n}\n${inner}\n}`
  const link = 'C: "OO",2,1\nC: "OO",1,0'
  test.each([
    ['fbx.index-out-of-range', geometry('PolygonVertexIndex: *6 {\na: 0,1,-3,0,1,-9\n}'), link],
    ['fbx.short-face', geometry('PolygonVertexIndex: *5 {\na: 0,1,-3,0,-2\n}'), link],
    [
      'fbx.number',
      geometry('PolygonVertexIndex: *3 {\na: 0,1,-3\n}').replace('a: 0,0,0', 'a: nan,0,0'),
      link,
    ],
    [
      'fbx.layer',
      geometry(
        'PolygonVertexIndex: *3 {\na: 0,1,-3\n}\nLayerElementUV: 0 {\nMappingInformationType: "ByMoon"\nUV: *2 {\na: 0,0\n}\n}',
      ),
      link,
    ],
    ['fbx.doubled-id', `${model}${model}`, ''],
    ['fbx.kept', `${model}Pose: 5, "Pose::bind", "BindPose" {\n}`, ''],
    [
      'fbx.layer-unknown',
      geometry('PolygonVertexIndex: *3 {\na: 0,1,-3\n}\nLayerElementMoon: 0 {\nMoon: *1 {\na: 0\n}\n}'),
      link,
    ],
    ['fbx.ring', `${model}Model: 3, "Model::lid", "Null" {\n}`, 'C: "OO",1,3\nC: "OO",3,1'],
    ['fbx.damaged', `${model}}\n}`, ''],
  ])('%s', (code, objects, connections) => {
    const found = codes(objects, connections)
    expect(found.filter((entry) => entry.startsWith(code)).length).toBeGreaterThan(0)
    expect(found.every((entry) => entry.startsWith(code))).toBe(true)
  })
  test('a sound one has nothing to say', () => {
    expect(codes(geometry('PolygonVertexIndex: *3 {\na: 0,1,-3\n}'), link)).toEqual([])
  })
  test('nodes that hang in a ring are set free', () => {
    const two = `${model}Model: 3, "Model::lid", "Null" {\n}`
    expect(codes(two, 'C: "OO",1,3\nC: "OO",3,1')).toEqual(['fbx.ring 6'])
  })
})

describe('files made to break it', () => {
  const box = readFileSync(join(MODELS, 'FBX/box.fbx'))
  const text = readdirSync(join(MODELS, 'FBX'))
    .map((name) => join(MODELS, 'FBX', name))
    .filter((path) => /\.fbx$/i.test(path))
    .map((path) => readFileSync(path))
    .find((bytes) => bytes[0] === 0x3b)!
  const attempt = (bytes: Uint8Array): string => {
    try {
      const { scene } = readFbx({ name: 'x.fbx', bytes })
      for (const mesh of scene.meshes)
        if (!mesh.faceVertices.every((point) => point < pointCountOf(mesh))) return 'unsound'
      return 'read'
    } catch (error) {
      return error instanceof KelboError ? error.code : `fault: ${(error as Error).stack}`
    }
  }
  test('cut at any byte', () => {
    for (let length = 0; length < box.length; length += 37)
      expect(attempt(box.subarray(0, length))).not.toMatch(/unsound|fault/)
    for (let length = 0; length < text.length; length += 997)
      expect(attempt(text.subarray(0, length))).not.toMatch(/unsound|fault/)
  })
  test('an old version, nothing, something else', () => {
    const old = Uint8Array.from(box)
    new DataView(old.buffer).setUint32(23, 5000, true)
    expect(attempt(old)).toBe('fbx.version')
    expect(attempt(new Uint8Array(0))).toBe('file.empty')
    expect(attempt(Uint8Array.from({ length: 4000 }, (_value, at) => (at * 7919) % 256))).toBe(
      'file.not-a-model',
    )
  })
})
