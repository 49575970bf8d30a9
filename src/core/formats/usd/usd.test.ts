/**
 * USD read and written. Hand-written files with what they hold by construction (tests/reference/usd); the syntax of what is
 * written is read by tinyusdz 0.9.0-rc10, its triangles by three 0.187.0.
 */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { anyScene } from '../../../../tests/any-scene.ts'
import { reference } from '../../../../tests/reference/reference.ts'
import { loadTinyUsdz } from '../../../../tests/tinyusdz.ts'
import { lz4, packIntegers, writeCrate } from '../../../../tests/usd-crate.ts'
import { cubeOf, materialOf, sceneOf } from '../../../../tests/solids.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { collectMessages, KelboError } from '../../base/messages/collector.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { TRAITS } from '../../compare/traits/registry.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { buildSignalKite } from '../../practice/demo/signal-kite.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { completeIds } from '../../scene/ids.ts'
import { IDENTITY_MATRIX, plainNode, type Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { readPackage } from '../package/read-package.ts'
import { unpackChunks, unpackIntegers } from './crate-bytes.ts'
import type { UsdLayer } from './layer.ts'
import type { UsdWriteOptions } from './options.ts'
import { readCrate } from './read-crate.ts'
import { readUsdText } from './read-text.ts'
import { readUsd } from './read-usd.ts'
import { writeUsdPackage } from './write-package.ts'
import { writeUsd } from './write-usd.ts'

const REFERENCE = join(import.meta.dirname, '../../../../tests/reference/usd')
const load = (name: string) =>
  readUsd({ name, bytes: new Uint8Array(readFileSync(join(REFERENCE, name))) }, [])
const text = (body: string, head = '') =>
  readUsd({ name: 'x.usda', bytes: encodeUtf8(`#usda 1.0\n${head}\n${body}`) }, [])
const codes = ({ findings }: { findings: readonly { code: string }[] }): string[] =>
  findings.map(({ code }) => code)

describe('files by hand', () => {
  test('polygons, creases and corners', () => {
    const { expected } = reference<{ expected: { meshes: { creases: number[][]; cornersSharp: number[][]; vertices: number; corners: number }[]; unitMeters: number; upAxis: string } }>('usd/polygons-creases.json') // prettier-ignore
    const { scene, findings } = load('polygons-creases.usda')
    const [mesh] = scene.meshes
    const [told] = expected.meshes
    expect(findings).toEqual([])
    expect([scene.space.unitMeters, scene.space.upAxis]).toEqual([expected.unitMeters, expected.upAxis])
    expect([mesh!.points.length / 3, mesh!.faceVertices.length]).toEqual([told!.vertices, told!.corners])
    expect([...mesh!.faceOffsets]).toEqual([0, 4, 9, 12])
    expect(mesh!.subdivision.scheme).toBe('catmull-clark')
    const { edgePoints, edgeSharpness, cornerPoints, cornerSharpness } = mesh!.creases!
    expect([...edgeSharpness].map((sharpness, at) => [edgePoints[2 * at], edgePoints[2 * at + 1], sharpness])).toEqual(told!.creases) // prettier-ignore
    expect([...cornerPoints].map((point, at) => [point, cornerSharpness[at]])).toEqual(told!.cornersSharp)
  })
  test('operations that place, with a pivot', () => {
    const { expected } = reference<{ expected: { worldPoints: number[][] } }>('usd/xform-order.json') // prettier-ignore
    const { scene } = load('xform-order.usda')
    const world = worldMatrices(scene)[1]!
    const { points } = scene.meshes[0]!
    const placed = [0, 1, 2].map((point) =>
      [0, 1, 2].map(
        (row) =>
          world[row]! * points[3 * point]! +
          world[4 + row]! * points[3 * point + 1]! +
          world[8 + row]! * points[3 * point + 2]! +
          world[12 + row]!,
      ),
    )
    placed.forEach((point, at) =>
      point.forEach((value, axis) => expect(value).toBeCloseTo(expected.worldPoints[at]![axis]!, 9)),
    )
    // and they are still those operations when it is written
    const again = new TextDecoder().decode(writeUsd(scene, 'x.usda').files[0]!.bytes)
    expect(again).toContain('"!invert!xformOp:translate:pivot"')
  })
  test('a preview surface with a map', () => {
    const { scene } = load('preview-surface.usda')
    const [brass] = scene.materials
    expect(brass!.model).toBe('UsdPreviewSurface')
    expect(Object.fromEntries(brass!.properties.map(({ name, values }) => [name, values[0]]))).toEqual({
      metallic: 1,
      roughness: 0.35,
      ior: 1.5,
      clearcoat: 0.25,
    })
    expect(brass!.maps).toEqual([
      { property: 'diffuseColor', slot: 'baseColor', file: 'brass_base.png', options: [] },
    ])
    expect([...scene.meshes[0]!.faceMaterials!]).toEqual([0])
  })
})

const SHEET = (name: string, more = ''): string =>
  `def Mesh "${name}" { int[] faceVertexCounts = [4] int[] faceVertexIndices = [0, 1, 2, 3] point3f[] points = [(0,0,0),(1,0,0),(1,1,0),(0,1,0)] uniform token subdivisionScheme = "none" ${more} }`

describe('what a file may hold', () => {
  test('values on points, polygons, sides and the whole', () => {
    const { scene, findings } = text(
      SHEET(
        'sheet',
        `texCoord2f[] primvars:st = [(0,0),(1,0),(1,1),(0,1)] ( interpolation = "vertex" )
         float2[] primvars:light = [(0,0),(1,0)] ( interpolation = "faceVarying" unauthoredValuesIndex = 1 )
         int[] primvars:light:indices = [0, 0, 1, 0]
         color3f[] primvars:displayColor = [(1,0,0)] ( interpolation = "uniform" )
         float[] primvars:mask = [0.5, 1, 1, 1] ( interpolation = "vertex" )
         normal3f[] normals = [(0,0,1),(0,0,1),(0,0,1),(0,1,0)] ( interpolation = "faceVarying" )
         color3f[] primvars:tint = [(0,1,0)] ( interpolation = "constant" )`,
      ),
    )
    const [mesh] = scene.meshes
    expect(codes({ findings })).toEqual(['usd.unit-fallback'])
    expect(mesh!.uvSets.map(({ name, indices }) => [name, [...indices]])).toEqual([
      ['st', [0, 1, 2, 3]],
      ['light', [0, 0, -1, 0]],
    ])
    expect([...mesh!.colorSets[0]!.indices]).toEqual([0, 0, 0, 0])
    expect([...mesh!.normals!.indices]).toEqual([0, 1, 2, 3])
    expect(mesh!.layers!.map(({ name, per }) => [name, per])).toEqual([['primvars:mask', 'corners']])
    expect(scene.nodes[0]!.kept!.map(({ name }) => name)).toEqual(['primvars:tint'])
    // all of it is in what is written of it
    const again = readUsd(writeUsd(scene, 'x.usda').files[0]!, []).scene
    expect(again.meshes[0]!.uvSets).toEqual(mesh!.uvSets)
    expect(again.meshes[0]!.layers![0]!.indices).toEqual(mesh!.layers![0]!.indices)
    expect(again.nodes.find(({ mesh: own }) => own === 0)!.kept!.map(({ name }) => name)).toEqual([
      'primvars:tint',
    ])
  })
  test('polygons that wind the other way are turned, with what stands on their sides', () => {
    const { scene } = text(
      SHEET('sheet', 'uniform token orientation = "leftHanded" float2[] primvars:st = [(0,0),(1,0),(1,1),(0,1)] ( interpolation = "faceVarying" )'), // prettier-ignore
    )
    const [mesh] = scene.meshes
    expect([...mesh!.faceVertices]).toEqual([0, 3, 2, 1])
    const [{ values, indices }] = [mesh!.uvSets[0]!]
    expect([...indices].map((index) => [values[2 * index], values[2 * index + 1]])).toEqual([[0, 0], [0, 1], [1, 1], [1, 0]]) // prettier-ignore
  })
  test('references inside the file, and of files beside it; what they show is one mesh', () => {
    const part = encodeUtf8(`#usda 1.0\n( defaultPrim = "part" )\ndef Xform "part" { ${SHEET('sheet')} }`)
    const root = encodeUtf8(
      `#usda 1.0\n( metersPerUnit = 1 )
      def Xform "a" ( prepend references = @./parts/part.usda@ ) { double3 xformOp:translate = (1,0,0) uniform token[] xformOpOrder = ["xformOp:translate"] }
      def Xform "b" ( prepend payload = @parts/part.usda@</part> ) { over "sheet" { token visibility = "invisible" } }
      def "c" ( prepend references = </a/sheet> ) {}
      def Xform "d" ( references = @nowhere.usda@ ) {}
      def Xform "e" ( inherits = </_class> ) {}
      class "_class" { ${SHEET('inherited')} }`,
    )
    const files = [
      { name: 'parts/part.usda', bytes: part },
      { name: 'root.usda', bytes: root },
    ]
    const { scene, findings, models } = readPackage(files)
    expect(models).toEqual(['root.usda'])
    expect(findings.map(({ code }) => code)).toEqual(['usd.missing-layer'])
    expect(scene.nodes.map(({ name, mesh }) => [name, mesh])).toEqual([
      ['a', -1],
      ['sheet', 0],
      ['b', -1],
      ['sheet', 0],
      // through what it hangs under there
      ['c', 0],
      ['d', -1],
      ['e', -1],
      ['inherited', 1],
    ])
    expect(scene.nodes[3]!.visible).toBe(false)
  })
  test('variants: the one that is chosen, and that is told', () => {
    const { scene, findings } = text(
      `def Xform "lamp" ( variants = { string size = "small" } prepend variantSets = "size" )
      { variantSet "size" = { "large" { ${SHEET('big')} } "small" { ${SHEET('little')} } } }`,
      '( metersPerUnit = 1 )',
    )
    expect(scene.nodes.map(({ name }) => name)).toEqual(['lamp', 'little'])
    expect(findings.map(({ code, parameters }) => [code, parameters])).toEqual([
      ['usd.variant', { name: 'lamp', set: 'size', variant: 'small' }],
    ])
  })
  test('what takes in itself, what is switched off, what goes by the world', () => {
    const result = text(
      `def Xform "a" ( references = </a> ) {}
      def Xform "b" ( references = </c> ) {} def Xform "c" ( references = </b> ) {}
      def Xform "off" ( active = false ) { ${SHEET('x')} }
      def Xform "up" { double3 xformOp:translate = (5,0,0) uniform token[] xformOpOrder = ["xformOp:translate"]
        def Xform "free" { double3 xformOp:translate = (1,0,0) uniform token[] xformOpOrder = ["!resetXformStack!", "xformOp:translate"] } }`,
      '( metersPerUnit = 1 )',
    )
    expect([...new Set(codes(result))].sort()).toEqual(['usd.own-space', 'usd.ring', 'usd.unloaded'])
    const free = result.scene.nodes.findIndex(({ name }) => name === 'free')
    expect(worldMatrices(result.scene)[free]!.slice(12, 15)).toEqual([1, 0, 0])
  })
  test('copies that are scattered are parts', () => {
    const result = text(
      `def PointInstancer "rivets" { rel prototypes = [</rivets/rivet>] int[] protoIndices = [0, 0, 0]
        point3f[] positions = [(0,0,0),(2,0,0),(4,0,0)] quath[] orientations = [(1,0,0,0),(0,0,0,1),(1,0,0,0)]
        float3[] scales = [(1,1,1),(2,2,2),(1,1,1)] int64[] invisibleIds = [2]
        ${SHEET('rivet')} }`,
      '( metersPerUnit = 1 )',
    )
    expect(codes(result)).toEqual(['usd.instances'])
    const { nodes, meshes } = result.scene
    expect(nodes.map(({ name, mesh, visible }) => [name, mesh, visible])).toEqual([
      ['rivets', -1, true],
      ['rivet_1', 0, true],
      ['rivet_2', 0, true],
      ['rivet_3', 0, false],
    ])
    expect(meshes).toHaveLength(1)
    expect(nodes[2]!.local.map((value) => value + 0)).toEqual([
      -2, 0, 0, 0, 0, -2, 0, 0, 0, 0, 2, 0, 2, 0, 0, 1,
    ])
  })
  test('materials: of what a part hangs under, of groups of polygons, and stronger than those below', () => {
    const two = `int[] faceVertexCounts = [3, 3] int[] faceVertexIndices = [0, 1, 2, 0, 2, 3] point3f[] points = [(0,0,0),(1,0,0),(1,1,0),(0,1,0)]`
    const { scene } = text(
      `def Xform "r" ( ) { rel material:binding = </m/red>
        def Mesh "plain" { ${two} }
        def Mesh "own" { ${two} rel material:binding = </m/blue> }
        def Mesh "half" { ${two} def GeomSubset "top" { uniform token familyName = "materialBind" int[] indices = [1] rel material:binding = </m/blue> } def GeomSubset "seam" { int[] indices = [0] } }
      }
      def Xform "s" { rel material:binding = </m/red> ( bindMaterialAs = "strongerThanDescendants" ) def Mesh "below" { ${two} rel material:binding = </m/blue> } }
      def Scope "m" { def Material "red" {} def Material "blue" {} }`,
      '( metersPerUnit = 1 )',
    )
    const of = (name: string) => scene.meshes[scene.nodes.find((node) => node.name === name)!.mesh]!
    expect(scene.materials.map(({ name }) => name)).toEqual(['red', 'blue'])
    expect(['plain', 'own', 'half', 'below'].map((name) => [...of(name).faceMaterials!])).toEqual([
      [0, 0],
      [1, 1],
      [0, 1],
      [0, 0],
    ])
    expect(of('half').groups).toEqual({ names: ['seam'], sets: [[0]], faceSets: Int32Array.of(0, -1) })
    // what only holds materials is no part
    expect(scene.nodes.map(({ name }) => name)).not.toContain('m')
  })
  test('a surface of MaterialX with its own words, values through an interface, and a placed map', () => {
    const { scene } = text(
      `${SHEET('sheet', 'rel material:binding = </m/steel>')}
      def Scope "m" { def Material "steel" {
        float inputs:rough = 0.4
        token outputs:mtlx:surface.connect = </m/steel/s.outputs:out>
        def Shader "s" { uniform token info:id = "ND_standard_surface_surfaceshader"
          float inputs:specular_roughness.connect = </m/steel.inputs:rough>
          color3f inputs:base_color.connect = </m/steel/image.outputs:out>
          float inputs:metalness = 1 }
        def Shader "image" { uniform token info:id = "ND_image_color3" asset inputs:file = @maps/steel.png@ }
      } }`,
      '( metersPerUnit = 1 )',
    )
    const [steel] = scene.materials
    expect(steel!.model).toBe('standard_surface')
    expect(steel!.properties).toEqual([
      { name: 'specular_roughness', values: [0.4], text: null },
      { name: 'metalness', values: [1], text: null },
    ])
    expect(steel!.maps.map(({ file, slot }) => [file, slot])).toEqual([['maps/steel.png', 'baseColor']])
  })
  test('a skeleton with a skin and shapes, read and read again', () => {
    const { scene, findings } = text(
      `def SkelRoot "rig" {
        def Skeleton "bones" { uniform token[] joints = ["hip", "hip/knee"]
          uniform matrix4d[] bindTransforms = [((1,0,0,0),(0,1,0,0),(0,0,1,0),(0,1,0,1)), ((1,0,0,0),(0,1,0,0),(0,0,1,0),(0,2,0,1))]
          uniform matrix4d[] restTransforms = [((1,0,0,0),(0,1,0,0),(0,0,1,0),(0,1,0,1)), ((1,0,0,0),(0,1,0,0),(0,0,1,0),(0,1,0,1))]
          rel skel:animationSource = </rig/walk> }
        def SkelAnimation "walk" { uniform token[] joints = ["hip"] float3[] translations.timeSamples = { 0: [(0,0,0)], 10: [(0,1,0)] } }
        ${SHEET('skin', 'int[] primvars:skel:jointIndices = [0,1,0,1,1,0,1,0] ( elementSize = 2 interpolation = "vertex" ) float[] primvars:skel:jointWeights = [1,0,0.5,0.5,1,0,1,0] ( elementSize = 2 interpolation = "vertex" ) rel skel:skeleton = </rig/bones> uniform token[] skel:blendShapes = ["open"] rel skel:blendShapeTargets = </rig/skin/open> def BlendShape "open" { uniform vector3f[] offsets = [(0,0,1)] uniform int[] pointIndices = [2] vector3f[] inbetweens:half = [(0,0,0.4)] ( weight = 0.5 ) }')}
      }`,
      '( metersPerUnit = 1 )',
    )
    expect(codes({ findings })).toEqual(['usd.kept'])
    expect(scene.nodes.map(({ name, role }) => [name, role])).toEqual([
      ['rig', undefined],
      ['bones', undefined],
      ['hip', 'LimbNode'],
      ['knee', 'LimbNode'],
      ['skin', undefined],
    ])
    const { skin, shapes } = scene.meshes[0]!
    expect([...skin!.jointNodes]).toEqual([2, 3])
    expect([...skin!.offsets]).toEqual([0, 1, 3, 4, 5])
    expect([...skin!.weights]).toEqual([1, 0.5, 0.5, 1, 1])
    expect(shapes.map(({ name, channel, fullWeight }) => [name, channel, fullWeight])).toEqual([
      ['half', 'open', 50],
      ['open', 'open', undefined],
    ])
    const written = writeUsd(scene, 'x.usda')
    const again = readUsd(written.files[0]!, []).scene
    expect(written.findings).toEqual([])
    expect(again.nodes.map(({ name, role }) => [name, role])).toEqual(scene.nodes.map(({ name, role }) => [name, role])) // prettier-ignore
    expect(again.meshes[0]!.skin).toEqual(skin)
    expect(again.meshes[0]!.shapes).toEqual(shapes)
    // its animation is there as it came, and still is the skeleton’s
    const body = new TextDecoder().decode(written.files[0]!.bytes)
    expect(body).toContain('float3[] translations.timeSamples')
    expect(body).toContain('rel skel:animationSource = </rig/walk>')
  })
  test('cameras, lights, properties of one’s own, kinds that Kelbo has no use for', () => {
    const { scene, findings } = text(
      `def Xform "set" ( kind = "component" customData = { string author = "nobody" } ) { custom string userProperties:note = "top shelf" custom double[] userProperties:sizes = [1, 2.5]
        def Camera "eye" { float focalLength = 35 float horizontalAperture = 20 float2 clippingRange = (0.1, 90) }
        def SphereLight "lamp" { float inputs:intensity = 30 color3f inputs:color = (1, 0.9, 0.8) }
        def BasisCurves "rope" { uniform token type = "linear" int[] curveVertexCounts = [2] point3f[] points = [(0,0,0),(1,0,0)] rel material:binding = </set/looks/tin> }
        def Scope "looks" { def Material "tin" {} }
        ${SHEET('sheet')} }`,
      '( metersPerUnit = 1 timeCodesPerSecond = 24 customLayerData = { string tool = "one" } )',
    )
    expect(codes({ findings })).toEqual(['usd.kept'])
    expect(scene.nodes[0]!.properties).toEqual({ note: 'top shelf', sizes: [1, 2.5] })
    expect(scene.cameras[0]!.properties.focalLength).toBe(35)
    expect(scene.lights[0]!.properties).toMatchObject({ type: 'SphereLight', intensity: 30 })
    const body = new TextDecoder().decode(writeUsd(scene, 'x.usda').files[0]!.bytes)
    for (const piece of ['kind = "component"', 'string author = "nobody"', 'def BasisCurves "rope"', 'timeCodesPerSecond = 24', 'string tool = "one"', 'float focalLength = 35']) expect(body).toContain(piece) // prettier-ignore
    // what it names lies elsewhere now, and is named there
    expect(body).toContain('rel material:binding = </set/Materials/tin>')
    const again = readUsd({ name: 'x.usda', bytes: encodeUtf8(body) }, []).scene
    expect(again.nodes[0]!.properties).toEqual(scene.nodes[0]!.properties)
    expect(again.lights[0]!.properties).toEqual(scene.lights[0]!.properties)
  })
  test.each([
    ['a point that is not there', 'int[] faceVertexCounts = [3,3] int[] faceVertexIndices = [0,1,9,0,1,2]', 'usd.index-out-of-range'], // prettier-ignore
    ['a polygon of two', 'int[] faceVertexCounts = [2,3] int[] faceVertexIndices = [0,1,0,1,2]', 'usd.short-face'], // prettier-ignore
    [
      'fewer corners than it says',
      'int[] faceVertexCounts = [3,9] int[] faceVertexIndices = [0,1,2]',
      'usd.part',
    ],
    ['too few values', 'int[] faceVertexCounts = [3] int[] faceVertexIndices = [0,1,2] float2[] primvars:st = [(0,0)] ( interpolation = "faceVarying" )', 'usd.values'], // prettier-ignore
    ['a material that is not there', 'int[] faceVertexCounts = [3] int[] faceVertexIndices = [0,1,2] rel material:binding = </gone>', 'usd.missing-prim'], // prettier-ignore
    ['materials by collections', 'int[] faceVertexCounts = [3] int[] faceVertexIndices = [0,1,2] rel material:binding:collection:a = [</a.collection:a>, </m>]', 'usd.binding'], // prettier-ignore
    [
      'holes',
      'int[] faceVertexCounts = [3] int[] faceVertexIndices = [0,1,2] int[] holeIndices = [0]',
      'usd.holes',
    ],
    ['points that move', 'int[] faceVertexCounts = [3] int[] faceVertexIndices = [0,1,2] point3f[] points.timeSamples = { 1: [(0,0,0),(1,0,0),(1,1,0)], 2: [(0,0,0),(1,0,0),(2,1,0)] }', 'usd.sampled'], // prettier-ignore
  ])('%s is told, the rest is read', (_name, body, code) => {
    const result = text(
      `def Mesh "m" { point3f[] points = [(0,0,0),(1,0,0),(1,1,0)] uniform token subdivisionScheme = "none" ${body} }`,
      '( metersPerUnit = 1 )',
    )
    expect(codes(result)).toEqual([code])
    expect(result.scene.meshes[0]!.faceOffsets.length - 1).toBe(1)
  })
  test.each([
    ['nothing', '', 'file.empty'],
    ['no USD', 'v 0 0 0\n', 'file.not-a-model'],
    ['an empty one', '#usda 1.0\n', 'file.not-a-model'],
    ['one that breaks off', '#usda 1.0\ndef Mesh "a"\n{\n  int[] x = [1, 2', 'usd.text'],
    ['a text without end', '#usda 1.0\ndef "a\n{}', 'usd.text'],
    ['prims in prims', `#usda 1.0\n${'def "a" {'.repeat(5000)}`, 'usd.text'],
    ['values in values', `#usda 1.0\ndef "a" { custom token[] b = ${'['.repeat(5000)} }`, 'usd.text'],
    ['a crate that breaks off', `PXR-USDC\0\x08${'\0'.repeat(90)}`, 'usd.crate'],
    ['a crate of later days', `PXR-USDC\x01\0${'\0'.repeat(90)}`, 'usd.crate-version'],
  ])('%s is refused in words', (_name, body, code) => {
    expect(() => readUsd({ name: 'x.usda', bytes: encodeUtf8(body) }, [])).toThrow(
      expect.objectContaining({ code }),
    )
  })
  test('references that double with each step end, and are told', () => {
    const steps = Array.from({ length: 24 }, (_none, at) => `def Xform "n${at}" { def Xform "l" ( references = </n${at + 1}> ) {} def Xform "r" ( references = </n${at + 1}> ) {} }`) // prettier-ignore
    const result = text(`${steps.join('\n')}\ndef Xform "n24" {}`, '( metersPerUnit = 1 )')
    expect(codes(result)).toContain('usd.too-many')
  }, 60000)
})

describe('binary files', () => {
  const layers: readonly [string, string][] = [
    ...['polygons-creases', 'preview-surface', 'xform-order'].map((name): [string, string] => [
      name,
      readFileSync(join(REFERENCE, `${name}.usda`), 'utf8'),
    ]),
    [
      'all kinds',
      `#usda 1.0\n( defaultPrim = "a" metersPerUnit = 0.5 )
      def Xform "a" ( variants = { string v = "two" } prepend references = @b.usda@</x> prepend payload = @c.usda@</y> customData = { string words = "ünïcode" bool yes = true dictionary deep = { double d = 0.1 int i = 7 } } )
      { custom string userProperties:s = "text" token[] names = ["one", "two"] asset[] files = [@x.png@, @y.png@] uniform token t = "u" quatf q = (1, 2, 3, 4) double third = 0.3333333333333333
        float flat.timeSamples = { 0: 0.5, 2: 1.5 } int[] many = [${Array.from({ length: 200 }, (_none, at) => (at * 37) % 19)}] float[] steps = [${Array.from({ length: 40 }, (_none, at) => (at % 3) + 0.5)}] float[] wholes = [${Array.from({ length: 40 }, (_none, at) => at * 3)}]
        variantSet "v" = { "one" { float x = 1 } "two" { float x = 2 def Scope "in" {} } }
        rel r = [</a/k>, </a/k.q>] def "k" { color3f q = (1, 0, 0) color3f w.connect = </a/k.q> } }`,
    ],
  ]
  /** Numbers as 32 bits hold them, where their type has no more. */
  const rounded = (layer: UsdLayer): unknown =>
    JSON.parse(
      JSON.stringify(layer, (_key, value: unknown) =>
        value instanceof Map
          ? [...value].sort()
          : value instanceof Float64Array
            ? [...value].map(Math.fround)
            : typeof value === 'number'
              ? Math.fround(value)
              : value,
      ),
    )
  test.each(layers)('%s: the same as its text', (name, body) => {
    const layer = readUsdText(encodeUtf8(body), name)
    const crate = writeCrate(layer)
    const messages = collectMessages(name)
    expect(rounded(readCrate(crate, name, messages))).toEqual(rounded(layer))
    expect(messages.list()).toEqual([])
  })
  test('tinyusdz reads the same bytes alike', async () => {
    const print = await loadTinyUsdz()
    for (const [name, body] of layers.slice(0, 3)) {
      const crate = writeCrate(readUsdText(encodeUtf8(body), name))
      const own = readUsd({ name: 'x.usdc', bytes: crate }, []).scene
      const other = readUsd({ name: 'x.usda', bytes: encodeUtf8(print(crate, 'x.usdc')) }, []).scene
      const [a, b] = [fingerprintScene(completeIds(own)), fingerprintScene(completeIds(other))]
      // it prints properties in an order of its own
      expect([name, TRAITS.filter((trait) => a[trait] !== b[trait] && trait !== 'surfaces')]).toEqual([
        name,
        [],
      ])
      const sorted = ({ materials }: Scene) => materials.map(({ properties, maps }) => [properties.map(({ name, values }) => [name, ...values.map(Math.fround)]).sort(), maps]) // prettier-ignore
      expect(sorted(other)).toEqual(sorted(own))
    }
  })
  test('packed blocks and whole numbers, of any kind', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(3), { maxLength: 3000 }), (list) => {
        const bytes = Uint8Array.from(list)
        expect(unpackChunks(Uint8Array.from([0, ...lz4(bytes)]), bytes.length)).toEqual(bytes)
      }),
      { numRuns: 100 },
    )
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 }), { maxLength: 300 }), (list) => {
        expect([...unpackIntegers(packIntegers(list), list.length, 32)]).toEqual(list)
      }),
      { numRuns: 200 },
    )
  })
  test('a package holds its model first and its maps, each on a multiple of 64 bytes', () => {
    const scene = completeIds(buildMooringBollard())
    const { files } = writeUsd(scene, 'bollard.usdz')
    expect(files.map(({ name }) => name)).toEqual(['bollard.usdz'])
    const [{ bytes }] = [files[0]!]
    const view = new DataView(bytes.buffer, bytes.byteOffset)
    let at = 0
    const names: string[] = []
    while (view.getUint32(at, true) === 0x04034b50) {
      expect(view.getUint16(at + 8, true)).toBe(0)
      const [nameLength, extra, length] = [view.getUint16(at + 26, true), view.getUint16(at + 28, true), view.getUint32(at + 18, true)] // prettier-ignore
      names.push(new TextDecoder().decode(bytes.subarray(at + 30, at + 30 + nameLength)))
      const data = at + 30 + nameLength + extra
      expect([names.at(-1), data % 64]).toEqual([names.at(-1), 0])
      at = data + length
    }
    expect(names[0]).toBe('bollard.usda')
    expect(names.slice(1)).toEqual(scene.images.filter(({ bytes: own }) => own).map(({ file }) => file))
    const read = readPackage(files)
    expect(read.findings).toEqual([])
    expect(read.scene.images.every(({ bytes: own }) => own)).toBe(true)
    const { rows } = compareScenes(scene, read.scene)
    expect(new Set(rows.flatMap(({ cells }) => Object.values(cells).map((cell) => cell?.state)))).toEqual(new Set(['same'])) // prettier-ignore
  })
  test('a value of a kind that is not known is left out and told', () => {
    const body = '#usda 1.0\ndef Xform "a" { mystery m = 1 float f = 2 }'
    const messages = collectMessages('x')
    const layer = readCrate(writeCrate(readUsdText(encodeUtf8(body), 'x')), 'x', messages)
    expect(layer.prims[0]!.properties.map(({ name, value }) => [name, value])).toEqual([
      ['m', undefined],
      ['f', 2],
    ])
    expect(messages.list().map(({ code }) => code)).toEqual(['usd.value-left'])
  })
  test('a map of a kind that packages do not take is told', () => {
    const file = 'maps/tin.webp'
    const scene = sceneOf([{ ...cubeOf(), faceMaterials: new Int32Array(6) }], {
      materials: [
        materialOf('tin', {
          model: 'UsdPreviewSurface',
          maps: [{ property: 'diffuseColor', slot: 'baseColor', file, options: [] }],
        }),
      ],
      images: [{ file, entry: file, bytes: Uint8Array.of(1, 2, 3) }],
    })
    expect(codes(writeUsd(scene, 'x.usdz'))).toEqual(['usd.image-kind'])
  })
  test('a package without a model, and one with a binary one', () => {
    const crate = writeCrate(readUsdText(encodeUtf8(layers[0]![1]), 'x'))
    const zipped = writeUsdPackage([{ name: 'a.usdc', bytes: crate }])
    expect(readUsd({ name: 'x.usdz', bytes: zipped }, []).scene.meshes).toHaveLength(1)
    const none = writeUsdPackage([{ name: 'a.txt', bytes: crate }])
    expect(() => readUsd({ name: 'x.usdz', bytes: none }, [])).toThrow(expect.objectContaining({ code: 'usd.package' })) // prettier-ignore
  })
  test('whatever is changed in one, it ends in words', () => {
    const crate = writeCrate(readUsdText(encodeUtf8(layers[3]![1]), 'x'))
    const texts = encodeUtf8(layers[3]![1])
    const chance = chanceOf(20261127)
    for (let run = 0; run < 2000; run++) {
      const source = run % 2 ? crate : texts
      const bytes = source.slice(0, run % 7 === 0 ? Math.floor(chance() * source.length) : source.length)
      for (let change = 0; change < 1 + (run % 5); change++) {
        const at = Math.floor(chance() * bytes.length)
        if (bytes.length) bytes[at] = run % 3 ? Math.floor(chance() * 256) : [0, 255, 127, 128][Math.floor(chance() * 4)]! // prettier-ignore
      }
      try {
        readUsd({ name: 'x.usd', bytes }, [])
      } catch (error) {
        expect([run, error instanceof KelboError]).toEqual([run, true])
      }
    }
  })
})

describe('written and read', () => {
  const write = (scene: Scene, options: Partial<UsdWriteOptions> = {}) => writeUsd(scene, 'x.usda', options)
  const back = (scene: Scene, options: Partial<UsdWriteOptions> = {}): Scene => {
    const { files } = write(scene, options)
    return completeIds(readUsd(files[0]!, files).scene)
  }
  const changed = (a: Scene, b: Scene): string[] => {
    const [before, after] = [fingerprintScene(a), fingerprintScene(b)]
    return TRAITS.filter((trait) => before[trait] !== after[trait])
  }
  test.each([
    ['heron', buildCourierHeron],
    ['lantern', buildStormLantern],
    ['bollard', buildMooringBollard],
    ['kite', buildSignalKite],
  ] as const)('the %s: every trait of every part is the same', (_name, build) => {
    const scene = completeIds(build())
    const { rows } = compareScenes(scene, back(scene))
    const states = rows.flatMap(({ name, cells }) =>
      Object.entries(cells).map(([trait, cell]) => `${name} ${trait} ${cell?.state}`),
    )
    expect(states.length).toBeGreaterThan(50)
    const isTold = write(scene).findings.some(({ code }) => code === 'usd.map-channels')
    const isFine = isTold ? / same$| surfaces changed$/ : / same$/
    expect(states.filter((state) => !isFine.test(state))).toEqual([])
    // and once more from what was read: the same bytes
    const once = write(back(scene)).files[0]!.bytes
    expect(Buffer.from(write(back(back(scene))).files[0]!.bytes).equals(Buffer.from(once))).toBe(true)
  })
  test('scenes of any kind: what was read once is read the same again', () => {
    fc.assert(
      fc.property(anyScene, (scene) => {
        const once = back(scene)
        expect(changed(once, back(once))).toEqual([])
      }),
      { numRuns: 200, seed: 20261127 },
    )
  })
  test('scenes of any kind: every trait of what is written is in the file', () => {
    fc.assert(
      fc.property(anyScene, (any) => {
        // axes that the format has words for
        const space = { ...any.space, upAxis: 'z', frontAxis: '-y', handedness: 'right' } as const
        const scene = completeIds({ ...any, space })
        // a file has nodes in the order of what hangs under what
        const order: number[] = []
        const visit = (parent: number): void =>
          scene.nodes.forEach((node, index) => {
            if (node.parent !== parent) return
            order.push(index)
            visit(index)
          })
        visit(-1)
        fc.pre(order.every((node, at) => node === at))
        expect(changed(scene, back(scene))).toEqual([])
      }),
      { numRuns: 200, seed: 20261128 },
    )
  })
  test('tinyusdz reads what is written, and prints the same model', async () => {
    const print = await loadTinyUsdz()
    for (const build of [buildCourierHeron, buildStormLantern, buildMooringBollard]) {
      const scene = completeIds(build())
      const { files } = write(scene)
      const printed = encodeUtf8(print(files[0]!.bytes, 'x.usda'))
      const other = completeIds(readUsd({ name: 'x.usda', bytes: printed }, files).scene)
      expect(other.meshes.map(({ faceVertices }) => [...faceVertices])).toEqual(back(scene).meshes.map(({ faceVertices }) => [...faceVertices])) // prettier-ignore
      expect(other.nodes.map(({ name }) => name)).toEqual(back(scene).nodes.map(({ name }) => name))
      expect(other.materials.map(({ name, model }) => [name, model])).toEqual(back(scene).materials.map(({ name, model }) => [name, model])) // prettier-ignore
    }
  })
  test('unit and up axis are stated, and the size is the same in metres', () => {
    const heron = completeIds(buildCourierHeron())
    for (const options of [
      { unitMeters: 1 },
      { upAxis: 'z' },
      { unitMeters: 0.0254, unitAs: 'roots' },
    ] as const) {
      const read = back(heron, options)
      const { rows } = compareScenes(heron, read)
      for (const { cells } of rows) expect(cells.points!.state).toMatch(/same|within/)
      if ('unitMeters' in options) expect(read.space.unitMeters).toBe(options.unitMeters)
      if ('upAxis' in options) expect(read.space.upAxis).toBe(options.upAxis)
    }
  })
  test('a changed colour counts, whatever the note beside it says; notes of another mesh are left out', () => {
    const scene = sceneOf(
      [cubeOf({ faceMaterials: new Int32Array(6), smoothing: { kind: 'groups', faceGroups: Int32Array.of(1, 1, 2, 2, 3, 3) } })], // prettier-ignore
      {
        materials: [materialOf('tin', { properties: [{ name: 'Kd', values: [0.8, 0.1, 0.1], text: null }] })],
      },
    )
    const { files } = write(scene)
    const body = new TextDecoder().decode(files[0]!.bytes)
    expect(readUsd(files[0]!, []).scene.materials[0]!.model).toBe('mtl')
    const other = body
      .replace('= (0.8, 0.1, 0.1)', '= (0.2, 0.1, 0.1)')
      .replace('\\"points\\":8', '\\"points\\":9')
    expect(other.length).toBe(body.length)
    const result = readUsd({ name: 'x.usda', bytes: encodeUtf8(other) }, [])
    const [tin] = result.scene.materials
    expect(tin!.model).toBe('UsdPreviewSurface')
    expect(tin!.properties.find(({ name }) => name === 'diffuseColor')!.values).toEqual([0.2, 0.1, 0.1])
    expect(codes(result)).toContain('usd.stale')
    expect(result.scene.meshes[0]!.smoothing).toBeNull()
  })
  test('joints with other things under them: all of it is there, and what stands elsewhere is told', () => {
    const joint = plainNode('hip', { role: 'LimbNode' })
    const scene = completeIds({
      ...sceneOf([
        cubeOf({
          skin: {
            jointNodes: Int32Array.of(1),
            meshBinds: Float64Array.from(IDENTITY_MATRIX),
            jointBinds: Float64Array.from(IDENTITY_MATRIX),
            offsets: Uint32Array.from({ length: 9 }, (_none, at) => at),
            joints: new Uint32Array(8),
            weights: new Float64Array(8).fill(1),
          },
        }),
      ]),
    })
    const full = completeIds({ ...scene, nodes: [...scene.nodes, joint, plainNode('hat', { parent: 1 })] })
    const { findings } = write(full)
    expect(findings.map(({ parameters }) => parameters.what)).toEqual(['what hangs on joints as such; it stands beside them']) // prettier-ignore
    const read = back(full)
    expect(read.nodes.map(({ name }) => name).sort()).toEqual(['hat', 'hip', 'part_1'])
    expect([...read.meshes[0]!.skin!.weights]).toEqual([...full.meshes[0]!.skin!.weights])
  })
})
