/**
 * Surfaces of MaterialX beside the preview surface: every node is held against the definitions of the standard library
 * of MaterialX 1.39.4 (npm @needle-tools/materialx), and what is read against what was written.
 */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { cubeOf, sceneOf } from '../../../../tests/solids.ts'
import { loadTinyUsdz } from '../../../../tests/tinyusdz.ts'
import { decodeUtf8, encodeUtf8 } from '../../base/bytes/text.ts'
import { chanceOf } from '../../base/math/chance.ts'
import type { Material, MaterialMap } from '../../scene/material.ts'
import { completeIds } from '../../scene/ids.ts'
import type { Scene } from '../../scene/scene.ts'
import { surfaceModelNamed } from '../../surfaces/registry.ts'
import { readUsd } from './read-usd.ts'
import { writeUsd } from './write-usd.ts'
import { howMany } from '../../../../tests/how-many.ts'

const library = readFileSync(
  join(
    import.meta.dirname,
    '../../../../node_modules/@needle-tools/materialx/bin/JsMaterialXGenShader.data.txt',
  ),
  'latin1',
)
/** Types of inputs by their names, of each definition. */
const definitions = new Map(
  [...library.matchAll(/<nodedef name="(\w+)"[^>]*>([\s\S]*?)<\/nodedef>/g)].map(([, name, body]) => [
    name!,
    {
      inputs: new Map(
        [...body!.matchAll(/<input name="(\w+)"[^>]*?\stype="(\w+)"/g)].map(([, input, type]) => [
          input!,
          type!,
        ]),
      ),
      output: /<output name="out" type="(\w+)"/.exec(body!)?.[1] ?? '',
    },
  ]),
)
const inherits = new Map(
  [...library.matchAll(/<nodedef name="(\w+)"[^>]*\sinherit="(\w+)"/g)].map(([, name, from]) => [
    name!,
    from!,
  ]),
)
const typeOf = (definition: string, input: string): string | undefined =>
  definitions.get(definition)!.inputs.get(input) ??
  (inherits.has(definition) ? typeOf(inherits.get(definition)!, input) : undefined)
const TYPES: Readonly<Record<string, string>> = {
  color3f: 'color3',
  color4f: 'color4',
  float: 'float',
  bool: 'boolean',
  int: 'integer',
  float2: 'vector2',
  float3: 'vector3',
  asset: 'filename',
  string: 'string',
}

const MODELS = ['standard-surface', 'openpbr', 'gltf'] as const

function anyMaterial(seed: number): Material {
  const chance = chanceOf(seed)
  const model = surfaceModelNamed(MODELS[seed % 3]!)
  const pick = <One>(some: readonly One[]): One => some[Math.floor(chance() * some.length)]!
  const properties: Material['properties'][number][] = []
  const maps: MaterialMap[] = []
  for (const { name, kind, range, width, mapName, slot, channel } of model.parameters) {
    if (name && kind !== 'map' && kind !== 'choice' && kind !== 'boolean' && width !== 4 && chance() < 0.3) {
      const low = range?.[0] ?? 0
      const high = Math.min(range?.[1] ?? low + 1, low + 1)
      const values = Array.from(
        { length: width },
        () => low + Math.round(chance() * 64) * ((high - low) / 64),
      )
      properties.push({ name, values, text: null })
    }
    if (!mapName || !slot || chance() > 0.25 || maps.some((map) => map.slot === slot)) continue
    const isPlaced = chance() < 0.3
    const taken = width === 1 && chance() < 0.4 ? pick(['r', 'g', 'b', 'a'] as const) : null
    // what is taken anyhow is not said
    const isSaid = taken !== null && taken !== (channel ?? 'r')
    maps.push({
      property: mapName,
      slot,
      file: `maps/${mapName}.png`,
      options: isSaid ? [['-imfchan', taken === 'a' ? 'm' : taken]] : [],
      ...(isPlaced
        ? {
            placement: {
              name: mapName,
              uvSet: pick(['', 'uv', 'second set']),
              wrapU: pick(['repeat', 'clamp'] as const),
              wrapV: pick(['repeat', 'clamp'] as const),
              scale: [pick([1, 2]), pick([1, 0.5])] as [number, number],
              offset: [0.25, pick([0, 0.5])] as [number, number],
              kept: [],
            },
          }
        : {}),
    })
  }
  return { id: '', name: `steel ${seed}`, model: model.materialModel, properties, maps, kept: [] }
}

function sceneWith(material: Material): Scene {
  const cube = cubeOf()
  const set = { values: Float64Array.of(0, 0), indices: new Int32Array(24), depths: null }
  return completeIds(
    sceneOf(
      [
        {
          ...cube,
          uvSets: [
            { ...set, name: 'uv' },
            { ...set, name: 'second set' },
          ],
          faceMaterials: new Int32Array(6),
        },
      ],
      { materials: [material] },
    ),
  )
}
const written = (scene: Scene): string => decodeUtf8(writeUsd(scene, 'x.usda').files[0]!.bytes)!
/** A material without the maps that neither surface has a place for, which is told. */
function asFarAs(scene: Scene): Material {
  const [material] = scene.materials
  const left = writeUsd(scene, 'x.usda').findings.flatMap(({ code, parameters }) =>
    code === 'usd.map-channels' ? [parameters.file] : [],
  )
  return { ...material!, maps: material!.maps.filter(({ file }) => !left.includes(file)) }
}
const read = (text: string) => readUsd({ name: 'x.usda', bytes: encodeUtf8(text) }, [])
const materialIn = (text: string): Material => read(text).scene.materials[0]!
const plain = ({ model, properties, maps }: Material): unknown => ({ model, properties, maps })

const SEEDS = Array.from({ length: howMany(20, 600) }, (_seed, at) => at + 1)

describe('networks that are written', () => {
  test('have nodes of the standard library alone, with its inputs and types', () => {
    let met = 0
    for (const seed of SEEDS) {
      const text = written(sceneWith(anyMaterial(seed)))
      const shaders = [...text.matchAll(/def Shader "(\w+)"\s*\{([^{}]*)\}/g)].map(([, name, body]) => ({
        name: name!,
        id: /info:id = "(\w+)"/.exec(body!)?.[1] ?? '',
        inputs: [...body!.matchAll(/^\s*(\w+) inputs:(\w+)(?:\.connect = <([^>]*)>| = (.*))$/gm)].map(
          ([, type, input, target]) => ({ type: type!, input: input!, target }),
        ),
      }))
      const outputOf = (target: string): string => {
        const node = target.split('/').at(-1)!.split('.')[0]!
        if (node !== 'mtlx_maps')
          return definitions.get(shaders.find(({ name }) => name === node)!.id)!.output
        const output = target.split('.').at(-1)!
        const behind = new RegExp(`${output}\\.connect = <([^>]*)>`).exec(text)![1]!
        return outputOf(behind)
      }
      for (const { id, inputs } of shaders.filter((shader) => shader.id.startsWith('ND_'))) {
        const definition = definitions.get(id)
        expect(definition, `${id} of seed ${seed}`).toBeDefined()
        for (const { type, input, target } of inputs) {
          met++
          expect([id, input, TYPES[type]]).toEqual([id, input, typeOf(id, input)])
          if (target) expect([id, input, outputOf(target)]).toEqual([id, input, TYPES[type]])
        }
      }
    }
    expect(met).toBeGreaterThan(600)
  })
  test('are read as the material that they were written of', () => {
    for (const seed of SEEDS) {
      const scene = sceneWith(anyMaterial(seed))
      const text = written(scene)
      expect(plain(materialIn(text)), `seed ${seed}`).toEqual(plain(asFarAs(scene)))
      const once = written(completeIds(read(text).scene))
      expect(written(completeIds(read(once).scene))).toBe(once)
    }
  })
  test('say as much without Kelbo’s notes beside them: values, maps, channels, how they lie', () => {
    let maps = 0
    for (const seed of SEEDS) {
      const material = anyMaterial(seed)
      const model = surfaceModelNamed(MODELS[seed % 3]!)
      const text = written(sceneWith(material)).replace(/^\s*customData = .*$/gm, '')
      const found = materialIn(text)
      expect(found.model).toBe(material.model)
      for (const map of found.maps) {
        // a node's input of normals is called otherwise than the model's map
        const own =
          material.maps.find(({ file, slot }) => file === map.file && slot === map.slot) ??
          material.maps.find(({ file }) => file === map.file)!
        if (own.slot === map.slot) maps++
        // one number of an image for a grey opacity, which is a colour there
        const isGrey = own.slot === 'opacity' && own.options.length === 0 && map.options[0]?.[1] === 'r'
        expect([map.file, isGrey ? [] : map.options]).toEqual([own.file, own.options])
        const [placed, before] = [map.placement, own.placement]
        for (const key of ['wrapU', 'wrapV', 'scale', 'offset'] as const)
          expect([seed, map.file, key, placed?.[key] ?? before?.[key]]).toEqual([
            seed,
            map.file,
            key,
            before?.[key] ?? placed?.[key],
          ])
      }
      for (const { name, values } of material.properties) {
        const standard = model.parameters.find((own) => own.name === name)!.standard
        if (JSON.stringify([standard].flat()) === JSON.stringify(values)) continue
        if (model.materialX!.without?.includes(name)) continue
        if (material.maps.some(({ property }) => property === name)) continue
        const own = found.properties.find((property) => property.name === name)
        if (!own) continue
        expect([seed, name, own.values]).toEqual([seed, name, values])
      }
    }
    expect(maps).toBeGreaterThan(80)
  })
})

test('tinyusdz reads networks, and prints what Kelbo reads the same again', async () => {
  const print = await loadTinyUsdz()
  for (const seed of SEEDS.slice(0, 9)) {
    const { bytes } = writeUsd(sceneWith(anyMaterial(seed)), 'x.usda').files[0]!
    const printed = print(bytes, 'x.usda')
    // numbers of 32 bits: what was not changed is known again by what both are rounded to
    expect(printed).toContain('ND_')
    expect(materialIn(printed).model).toBe(anyMaterial(seed).model)
  }
})
test('a map that a preview surface has no place for is in the network, which is told, and comes back', () => {
  const material: Material = {
    id: '',
    name: 'velvet',
    model: 'standard_surface',
    properties: [{ name: 'sheen', values: [1], text: null }],
    maps: [{ property: 'sheen_color', slot: 'sheenColor', file: 'maps/nap.png', options: [] }],
    kept: [],
  }
  const image = { file: 'maps/nap.png', entry: 'maps/nap.png', bytes: Uint8Array.of(1, 2, 3) }
  const scene = { ...sceneWith(material), images: [image] }
  const { files, findings } = writeUsd(scene, 'x.usda')
  expect(findings.map(({ code }) => code)).toEqual(['usd.map-network'])
  expect(files.map(({ name }) => name)).toEqual(['x.usda', 'maps/nap.png'])
  expect(plain(readUsd(files[0]!, files).scene.materials[0]!)).toEqual(plain(material))
})

describe('a network that a tool has changed', () => {
  const material: Material = {
    id: '',
    name: 'brass',
    model: 'standard_surface',
    properties: [
      { name: 'specular_roughness', values: [0.25], text: null },
      { name: 'coat', values: [0.5], text: null },
    ],
    maps: [{ property: 'base_color', slot: 'baseColor', file: 'maps/brass.png', options: [] }],
    kept: [],
  }
  const text = written(sceneWith(material))
  const valueOf = (own: Material, name: string): number | undefined =>
    own.properties.find((property) => property.name === name)?.values[0]

  test('counts before the note and the preview', () => {
    const found = materialIn(
      text.replace('inputs:specular_roughness = 0.25', 'inputs:specular_roughness = 0.75'),
    )
    expect([found.model, valueOf(found, 'specular_roughness'), valueOf(found, 'coat')]).toEqual([
      'standard_surface',
      0.75,
      0.5,
    ])
  })
  test('a preview that was changed alone counts before a network that was not', () => {
    const changed = text.replace('inputs:roughness = 0.25', 'inputs:roughness = 0.875')
    expect(changed).not.toBe(text)
    const found = materialIn(changed)
    expect([found.model, valueOf(found, 'roughness')]).toEqual(['UsdPreviewSurface', 0.875])
  })
  test('where both were changed the one that says more counts', () => {
    const found = materialIn(
      text
        .replace('inputs:roughness = 0.25', 'inputs:roughness = 0.875')
        .replace('inputs:specular_roughness = 0.25', 'inputs:specular_roughness = 0.75'),
    )
    expect([found.model, valueOf(found, 'specular_roughness')]).toEqual(['standard_surface', 0.75])
  })
  test('a node between an image and what it feeds is told, and so is one that was taken out', () => {
    const between = text
      .replace(
        /(outputs:map_base_color_output\.connect = <[^>]*\/)map_base_color_image(\.outputs:out>)/,
        '$1dim$2',
      )
      .replace(
        /(\s*)(def Shader "map_base_color_image")/,
        '$1def Shader "dim" { uniform token info:id = "ND_multiply_color3FA" color3f inputs:in1.connect = </x/materials/brass/mtlx_maps/map_base_color_image.outputs:out> float inputs:in2 = 0.5 }$1$2',
      )
    const path = /<([^>]*)\/mtlx_maps\/map_base_color_image\.outputs:out>/.exec(text)![1]!
    const { scene, findings } = read(between.replaceAll('/x/materials/brass', path))
    expect(scene.materials[0]!.maps.map(({ file }) => file)).toEqual(['maps/brass.png'])
    expect(
      findings.filter(({ code }) => code === 'usd.texture-worked').map(({ parameters }) => parameters),
    ).toEqual([{ file: 'maps/brass.png', parameter: 'base_color', nodes: 'multiply' }])
  })
})

test.each([
  ['ND_extract_color3', 'color3f inputs:in', 'int inputs:index = 1', 'out', 'g'],
  ['ND_swizzle_color3_float', 'color3f inputs:in', 'string inputs:channels = "b"', 'out', 'b'],
  ['ND_separate3_color3', 'color3f inputs:in', '', 'outg', 'g'],
  ['ND_convert_color3_float', 'color3f inputs:in', '', 'out', null],
  ['ND_normalmap', 'float3 inputs:in', '', 'out', null],
])('a channel that %s takes is read, and nothing is told', (id, head, words, output, channel) => {
  const parameter = id === 'ND_normalmap' ? 'normal' : 'metalness'
  const { scene, findings } = read(
    `#usda 1.0\n( metersPerUnit = 1 )\ndef Mesh "sheet" { int[] faceVertexCounts = [3] int[] faceVertexIndices = [0, 1, 2] point3f[] points = [(0,0,0), (1,0,0), (0,1,0)] rel material:binding = </a> }
    def Material "a" { token outputs:mtlx:surface.connect = </a/s.outputs:out>
      def Shader "s" { uniform token info:id = "ND_standard_surface_surfaceshader" float inputs:${parameter}.connect = </a/n.outputs:${output}> }
      def Shader "n" { uniform token info:id = "${id}" ${head}.connect = </a/i.outputs:out> ${words} }
      def Shader "i" { uniform token info:id = "ND_image_color3" asset inputs:file = @a.png@ } }`,
  )
  expect(scene.materials[0]!.maps.map(({ options }) => options)).toEqual([
    channel ? [['-imfchan', channel]] : [],
  ])
  expect(findings.map(({ code }) => code)).not.toContain('usd.texture-worked')
})

test('nodes that lead to each other over and over end', () => {
  const nodes = Array.from(
    { length: 60 },
    (_node, at) =>
      `def Shader "n${at}" { uniform token info:id = "ND_add_color3" color3f inputs:in1.connect = </m/a/n${at + 1}.outputs:out> color3f inputs:in2.connect = </m/a/n${at + 1}.outputs:out> }`,
  )
  const { scene } = read(
    `#usda 1.0\n( metersPerUnit = 1 )\ndef Xform "p" { def Mesh "sheet" { int[] faceVertexCounts = [3] int[] faceVertexIndices = [0, 1, 2] point3f[] points = [(0,0,0), (1,0,0), (0,1,0)] rel material:binding = </m/a> } }
    def Scope "m" { def Material "a" { token outputs:mtlx:surface.connect = </m/a/s.outputs:out>
      def Shader "s" { uniform token info:id = "ND_standard_surface_surfaceshader" color3f inputs:base_color.connect = </m/a/n0.outputs:out> float inputs:coat = 1 }
      ${nodes.join('\n')} } }`,
  )
  expect(scene.materials[0]!.properties).toEqual([{ name: 'coat', values: [1], text: null }])
})
