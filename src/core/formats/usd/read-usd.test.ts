/** USD as it is read: hand-written files with what they hold by construction (tests/reference/usd), and what files may hold. */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { reference } from '../../../../tests/reference/reference.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { worldMatrices } from '../../scene/world.ts'
import { readPackage } from '../package/read-package.ts'
import { absolutePath } from './compose.ts'
import { readUsd } from './read-usd.ts'
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
  test('what is there for looking or for guidance is told, and still is so when it is written', () => {
    const result = text(
      `def Xform "lamp" { token purpose = "proxy" ${SHEET('rough')} }`,
      '( metersPerUnit = 1 relocates = { </a>: </b>, </c>: </d> } )',
    )
    expect(result.findings.map(({ code, parameters }) => [code, parameters])).toEqual([
      ['usd.purpose', { name: 'lamp', purpose: 'looking alone' }],
    ])
    const written = new TextDecoder().decode(writeUsd(result.scene, 'x.usda').files[0]!.bytes)
    expect(written).toContain('token purpose = "proxy"')
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
  test('a part that takes in what it is part of, by one way or two, comes once; what is named again below is no ring', () => {
    for (const what of [
      `def Xform "a" { ${SHEET('sheet')} def Xform "again" ( references = </a> ) {} }`,
      `def Xform "a" { ${SHEET('sheet')} def Xform "again" ( inherits = </a> ) {} }`,
      `def Xform "a" { ${SHEET('sheet')} def Xform "x" ( references = </b> ) {} } def Xform "b" { def Xform "y" ( references = </a> ) {} }`,
    ]) {
      const { scene, findings } = text(what, '( metersPerUnit = 1 )')
      expect(findings.map(({ code }) => code)).toContain('usd.ring')
      expect(scene.nodes.length).toBeLessThan(12)
    }
    const { scene, findings } = text(
      `def Xform "lamp" ( references = </bulb> ) { def Xform "spare" ( references = </bulb> ) {} } class Xform "bulb" { ${SHEET('glass')} }`,
      '( metersPerUnit = 1 )',
    )
    expect(findings).toEqual([])
    expect(scene.nodes.map(({ name }) => name).sort()).toEqual(['glass', 'glass', 'lamp', 'spare'])
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
  test('materials by collections: of what they include and leave out, before what their prim names itself', () => {
    const sheet = `int[] faceVertexCounts = [3] int[] faceVertexIndices = [0, 1, 2] point3f[] points = [(0,0,0),(1,0,0),(1,1,0)]`
    const result = text(
      `def Xform "r" {
        rel material:binding = </m/red>
        rel material:binding:collection:brass = [ </r.collection:fittings>, </m/blue> ]
        rel material:binding:collection:full:late = [ </r.collection:both>, </m/green> ]
        uniform token collection:fittings:expansionRule = "expandPrims"
        rel collection:fittings:includes = [ </r/lamp>, </r/hook> ]
        rel collection:fittings:excludes = </r/lamp/glass>
        rel collection:both:includes = [ </r.collection:one>, </r/rope> ]
        uniform token collection:one:expansionRule = "explicitOnly"
        rel collection:one:includes = [ </r/lamp>, </r/post> ]
        def Xform "lamp" { def Mesh "frame" { ${sheet} } def Mesh "glass" { ${sheet} } }
        def Mesh "hook" { ${sheet} rel material:binding = </m/red> }
        def Mesh "hull" { ${sheet} }
        def Xform "post" { def Mesh "cap" { ${sheet} } }
        def Mesh "rope" { ${sheet} }
      }
      def Xform "s" {
        rel material:binding:collection:all = [ </s.collection:all>, </m/green> ] ( bindMaterialAs = "strongerThanDescendants" )
        rel collection:all:includes = </s>
        def Mesh "sail" { ${sheet} rel material:binding = </m/blue> }
      }
      def Scope "m" { def Material "red" {} def Material "blue" {} def Material "green" {} }`,
      '( metersPerUnit = 1 )',
    )
    const { scene } = result
    const of = (name: string): string => {
      const mesh = scene.meshes[scene.nodes.find((node) => node.name === name)!.mesh]!
      return scene.materials[mesh.faceMaterials![0]!]!.name
    }
    expect(
      Object.fromEntries(
        ['frame', 'glass', 'hook', 'hull', 'cap', 'rope', 'sail'].map((name) => [name, of(name)]),
      ),
    ).toEqual({
      frame: 'blue',
      glass: 'red',
      // nearer than the collection above it
      hook: 'red',
      hull: 'red',
      // only what is named itself
      cap: 'red',
      rope: 'green',
      sail: 'green',
    })
    expect(codes(result)).not.toContain('usd.binding')
  })
  test.each([
    ['a collection that is not there', 'rel material:binding:collection:a = [ </r.collection:none>, </m> ]'],
    [
      'one by an expression',
      'rel material:binding:collection:a = [ </r.collection:x>, </m> ] string collection:x:membershipExpression = "//lamp*"',
    ],
    [
      'one that takes itself in',
      'rel material:binding:collection:a = [ </r.collection:x>, </m> ] rel collection:x:includes = </r.collection:x>',
    ],
    [
      'one of some polygons',
      'rel material:binding:collection:a = [ </r.collection:x>, </m> ] rel collection:x:includes = </r/lamp/top>',
    ],
  ])('materials by %s are told', (_name, words) => {
    const result = text(
      `def Xform "r" { ${words} def Mesh "lamp" { int[] faceVertexCounts = [3] int[] faceVertexIndices = [0, 1, 2] point3f[] points = [(0,0,0),(1,0,0),(1,1,0)] def GeomSubset "top" { int[] indices = [0] } } } def Material "m" {}`,
      '( metersPerUnit = 1 )',
    )
    expect(codes(result)).toContain('usd.binding')
    expect(result.scene.meshes[0]!.faceMaterials).toBeNull()
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
  test.each([
    ['diffuseColor', '', 0],
    ['diffuseColor', 'float4 inputs:scale = (1, 1, 1, 1) float4 inputs:bias = (0, 0, 0, 0)', 0],
    ['diffuseColor', 'float4 inputs:scale = (0.5, 0.5, 0.5, 1)', 1],
    ['diffuseColor', 'float4 inputs:bias = (0.1, 0, 0, 0)', 1],
    ['normal', '', 0],
    ['normal', 'float4 inputs:scale = (2, 2, 2, 1) float4 inputs:bias = (-1, -1, -1, 0)', 0],
    ['normal', 'float4 inputs:scale = (2, -2, 2, 1) float4 inputs:bias = (-1, 1, -1, 0)', 1],
  ])('a map of %s with “%s”: values that are bent on their way are told', (parameter, words, count) => {
    const type = parameter === 'normal' ? 'normal3f' : 'color3f'
    const { findings } = text(
      `${SHEET('sheet', 'rel material:binding = </m/tin>')}
      def Scope "m" { def Material "tin" { token outputs:surface.connect = </m/tin/s.outputs:surface>
        def Shader "s" { uniform token info:id = "UsdPreviewSurface" ${type} inputs:${parameter}.connect = </m/tin/t.outputs:rgb> }
        def Shader "t" { uniform token info:id = "UsdUVTexture" asset inputs:file = @a.png@ ${words} } } }`,
      '( metersPerUnit = 1 )',
    )
    expect(findings.filter(({ code }) => code === 'usd.texture-scaled')).toHaveLength(count)
  })
  test('a displacement and what stands in for a missing map are there again; a movement that is let go is told', () => {
    const { scene } = text(
      `${SHEET('sheet', 'rel material:binding = </m/tin> double3 xformOp:translate.timeSamples = { 0: (0,0,0), 5: (1,0,0) } uniform token[] xformOpOrder = ["xformOp:translate"]')}
      def Scope "m" { def Material "tin" { token outputs:surface.connect = </m/tin/s.outputs:surface>
        def Shader "s" { uniform token info:id = "UsdPreviewSurface" color3f inputs:diffuseColor.connect = </m/tin/t.outputs:rgb> float inputs:displacement = 0.5 }
        def Shader "t" { uniform token info:id = "UsdUVTexture" asset inputs:file = @a.png@ float4 inputs:fallback = (0.5, 0.25, 0.125, 1) } } }`,
      '( metersPerUnit = 1 )',
    )
    const { files, findings } = writeUsd(scene, 'x.usda')
    expect(findings).toEqual([])
    const body = new TextDecoder().decode(files[0]!.bytes)
    expect(body).toMatch(/outputs:displacement\.connect = <[^>]*tin\/surface\.outputs:displacement>/)
    expect(body).toContain('xformOp:translate.timeSamples')
    expect(new Set(readUsd(files[0]!, []).scene.materials[0]!.properties)).toEqual(new Set(scene.materials[0]!.properties)) // prettier-ignore
    const moved = { ...scene, nodes: scene.nodes.map((node) => ({ ...node, local: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 9, 0, 0, 1] })) } // prettier-ignore
    expect(writeUsd(moved, 'x.usda').findings.map(({ parameters }) => parameters.what)).toEqual(['the movement of “sheet”, which stands elsewhere now']) // prettier-ignore
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
    // what a camera says in units goes with them
    const centimetres = new TextDecoder().decode(
      writeUsd(scene, 'x.usda', { unitMeters: 0.01 }).files[0]!.bytes,
    )
    expect(centimetres).toContain('float2 clippingRange = (10, 9000)')
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
  test('a chain of creases without end ends with its list, and is told', () => {
    const result = text(
      SHEET('sheet', 'int[] creaseIndices = [0, 1] int[] creaseLengths = [1e999] float[] creaseSharpnesses = [2]'), // prettier-ignore
      '( metersPerUnit = 1 )',
    )
    expect(codes(result)).toEqual(['usd.values'])
    expect([...result.scene.meshes[0]!.creases!.edgePoints]).toEqual([0, 1])
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
  })
})

describe('text that says little or is cut', () => {
  const faultOf = (body: string): unknown => {
    try {
      text(body)
      return null
    } catch (error) {
      return (error as { parameters: { what: unknown } }).parameters.what
    }
  }
  test('an order of names or properties changes nothing, wherever it stands', () => {
    const body = `def Mesh "a" {
      reorder properties = ["points", "faceVertexCounts"]
      point3f[] points = [(0, 0, 0), (1, 0, 0), (0, 1, 0)]
      int[] faceVertexCounts = [3]
      int[] faceVertexIndices = [0, 1, 2]
      reorder nameChildren = ["c", "b"]
      def Xform "b" { }
      def Xform "c" { }
    }
    reorder rootPrims = ["a"]`
    const { scene, findings } = text(body)
    expect(codes({ findings })).toEqual(['usd.unit-fallback'])
    expect(scene.nodes.map(({ name }) => name)).toEqual(['a', 'b', 'c'])
    expect([...scene.meshes[0]!.faceVertices]).toEqual([0, 1, 2])
  })
  test.each([
    ['def Xform "a" {', '“}” is missing'],
    ['def Xform "a" { ( }', 'a prim or a property is expected'],
    ['def Xform "a" { = 3 }', 'a prim or a property is expected'],
    ['def Xform { }', 'the name of a prim is expected'],
    ['orphan "a" { }', 'a prim is expected'],
    ['"reorder" = [1]', 'a prim is expected'],
  ])('%s', (body, what) => {
    expect(String(faultOf(body))).toContain(what)
  })
})

test.each([
  ['/a/b', '/c', '/a/b'],
  ['b', '/a', '/a/b'],
  ['./b', '/a', '/a/b'],
  ['../b', '/a/c', '/a/b'],
  ['../../b/d', '/a/c', '/b/d'],
  ['../../../b', '/a', '/b'],
  ['../b.outputs:out', '/a/c', '/a/b.outputs:out'],
  ['/a{look=red}b', '/', '/ab'],
])('a path from where it stands: %s from %s is %s', (path, from, expected) => {
  expect(absolutePath(path, from)).toBe(expected)
})
