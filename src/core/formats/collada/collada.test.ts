/**
 * COLLADA read and written. The files of Debian's assimp-testmodels 5.2.5~ds0-1 are held against a literal reading,
 * pycollada 0.4.1 and assimp 5.2.4 (tests/reference/collada); what is written is read by assimp (npm assimpjs).
 */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { loadAssimp, type AssimpNode } from '../../../../tests/assimp.ts'
import { anyScene } from '../../../../tests/any-scene.ts'
import { reference } from '../../../../tests/reference/reference.ts'
import { cubeOf, gridOf, materialOf, sceneOf } from '../../../../tests/solids.ts'
import { boundsOf } from '../../base/math/box.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { TRAITS } from '../../compare/traits/registry.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { buildSignalKite } from '../../practice/demo/signal-kite.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { completeIds } from '../../scene/ids.ts'
import { EMPTY_MESH, type Mesh } from '../../scene/mesh.ts'
import { IDENTITY_MATRIX, plainNode, type Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { triangulateScene } from '../arrange/arrange-scene.ts'
import { isZip, readZip } from '../package/read-zip.ts'
import type { PackageFile } from '../package/package-file.ts'
import type { ColladaWriteOptions } from './options.ts'
import { readCollada } from './read-collada.ts'
import { writeCollada } from './write-collada.ts'
import { howMany } from '../../../../tests/how-many.ts'

const MODELS = '/usr/share/assimp/models/Collada'
const beside: PackageFile[] = readdirSync(MODELS).map((name) => ({
  name,
  bytes: new Uint8Array(readFileSync(join(MODELS, name))),
}))
function load(name: string) {
  const file = beside.find((own) => own.name === name)!
  if (!isZip(file)) return readCollada(file, beside)
  const { files } = readZip(file)
  return readCollada(
    files.find((own) => /\.dae$/i.test(own.name))!,
    files,
  )
}
const text = (body: string, version = '1.4.1') =>
  readCollada(
    {
      name: 'x.dae',
      bytes: encodeUtf8(
        `<?xml version="1.0"?><COLLADA xmlns="http://www.collada.org/2005/11/COLLADASchema" version="${version}">${body}</COLLADA>`,
      ),
    },
    [],
  )
const codes = ({ findings }: { findings: readonly { code: string }[] }): string[] =>
  findings.map(({ code }) => code)

interface Told {
  readonly file: string
  readonly literal: {
    readonly unitMeters: number | null
    readonly upAxis: string | null
    readonly cameras: number
    readonly lights: number
    readonly materials: number
    readonly skins: number
  }
  readonly pycollada?: { readonly polygons?: number; readonly instances?: number }
  readonly assimp?: { readonly worldBounds?: { readonly min: number[]; readonly max: number[] } | null }
}
const told = readdirSync(join(import.meta.dirname, '../../../../tests/reference/collada'))
  .filter((name) => name.endsWith('.json'))
  .map((name) => reference<Told>(`collada/${name}`))

describe.each(told.map((entry) => [entry.file, entry] as const))(
  '%s',
  (file, { literal, pycollada, assimp }) => {
    const { scene } = load(file.split('/').pop()!)
    test('unit, axis, materials, cameras, lights, skins', () => {
      expect(scene.space.unitMeters).toBe(literal.unitMeters)
      expect(scene.space.upAxis).toBe((literal.upAxis ?? 'Y_UP').charAt(0).toLowerCase())
      expect(scene.materials).toHaveLength(literal.materials)
      expect(scene.meshes.filter(({ skin }) => skin)).toHaveLength(literal.skins)
      expect(scene.cameras.length).toBeLessThanOrEqual(literal.cameras)
      expect(scene.lights.length).toBeLessThanOrEqual(literal.lights)
    })
    // concave polygons and files that it can't read are no judge there
    if (pycollada?.polygons && !/library_animation|regr01|human/.test(file))
      test('as many polygons as to pycollada', () => {
        const shown = scene.meshes.reduce((sum, { faceOffsets }) => sum + faceOffsets.length - 1, 0)
        expect(shown).toBe(pycollada.polygons)
      })
    const bounds = assimp?.worldBounds
    // skinned meshes stand as they are bound there
    if (bounds && literal.skins === 0 && !/emptyTags|teapots/.test(file))
      test('as large as to assimp, whichever axis is up', () => {
        const worlds = worldMatrices(scene)
        const all = scene.nodes.flatMap((node, index) =>
          node.mesh < 0 ? [] : [...transformPoints(scene.meshes[node.mesh]!.points, worlds[index]!)],
        )
        const own = boundsOf(Float64Array.from(all))!
        const sizes = (box: { readonly min: readonly number[]; readonly max: readonly number[] }): number[] =>
          [0, 1, 2].map((axis) => box.max[axis]! - box.min[axis]!).sort((a, b) => a - b)
        const [mine, others] = [sizes(own), sizes(bounds)]
        // assimp brings some files into metres
        const ratio = others[2]! / mine[2]!
        for (const axis of [0, 1, 2]) expect(mine[axis]! * ratio).toBeCloseTo(others[axis]!, 3)
        expect([1, scene.space.unitMeters ?? 1].some((unit) => Math.abs(ratio / unit - 1) < 1e-4)).toBe(true)
      })
  },
)

test('every COLLADA of the package is read', () => {
  const names = beside.filter(({ name }) => /\.(dae|zae)$/i.test(name)).map(({ name }) => name)
  expect(names.length).toBe(28)
  for (const name of names) expect([name, load(name).scene.nodes.length > 0]).toEqual([name, true])
  // of a system with decimal commas
  expect(codes(load('teapots.DAE'))).toContain('file.commas')
  const { scene } = load('teapots.DAE')
  expect(scene.meshes[0]!.points[0]).toBeCloseTo(21.92087, 5)
})

describe('what a file may hold', () => {
  const SOURCE = (id: string, values: string, names: string): string =>
    `<source id="${id}"><float_array id="${id}-a" count="${values.split(/\s+/).length}">${values}</float_array><technique_common><accessor source="#${id}-a" count="${values.split(/\s+/).length / names.length}" stride="${names.length}">${[...names].map((name) => `<param name="${name}" type="float"/>`).join('')}</accessor></technique_common></source>`
  const SQUARE = '0 0 0 4 0 0 4 4 0 0 4 0 1 1 0 1 3 0 3 3 0 3 1 0'
  const mesh = (polygons: string): string =>
    `<library_geometries><geometry id="g" name="plate"><mesh>${SOURCE('p', SQUARE, 'XYZ')}<vertices id="v"><input semantic="POSITION" source="#p"/></vertices>${polygons}</mesh></geometry></library_geometries><library_visual_scenes><visual_scene id="s"><node id="n" name="plate"><instance_geometry url="#g"/></node></visual_scene></library_visual_scenes><scene><instance_visual_scene url="#s"/></scene>`
  const INPUT = '<input semantic="VERTEX" source="#v" offset="0"/>'
  const corners = (body: string): number[] => [...text(mesh(body)).scene.meshes[0]!.faceVertices]

  test('polygons of every element', () => {
    expect(corners(`<triangles count="1">${INPUT}<p>0 1 2</p></triangles>`)).toEqual([0, 1, 2])
    expect(corners(`<polylist count="2">${INPUT}<vcount>4 3</vcount><p>0 1 2 3 4 5 6</p></polylist>`)).toEqual([0, 1, 2, 3, 4, 5, 6]) // prettier-ignore
    expect(corners(`<polygons count="2">${INPUT}<p>0 1 2 3</p><p>4 5 6</p></polygons>`)).toEqual([0, 1, 2, 3, 4, 5, 6]) // prettier-ignore
    expect(corners(`<tristrips count="1">${INPUT}<p>0 1 3 2</p></tristrips>`)).toEqual([0, 1, 3, 3, 1, 2])
    expect(corners(`<trifans count="1">${INPUT}<p>0 1 2 3</p></trifans>`)).toEqual([0, 1, 2, 0, 2, 3])
  })
  test('a polygon with a hole is one, cut open to its border, whichever way the hole runs', () => {
    for (const hole of ['4 5 6 7', '7 6 5 4']) {
      const result = text(
        mesh(`<polygons count="1">${INPUT}<ph><p>0 1 2 3</p><h>${hole}</h></ph></polygons>`),
      )
      expect(codes(result)).toEqual(['collada.hole'])
      const [own] = result.scene.meshes
      expect([...own!.faceOffsets]).toEqual([0, 10])
      // 16 less 4
      let area = 0
      own!.faceVertices.forEach((point, at) => {
        const next = own!.faceVertices[(at + 1) % 10]!
        area += (own!.points[3 * point]! * own!.points[3 * next + 1]! - own!.points[3 * next]! * own!.points[3 * point + 1]!) / 2 // prettier-ignore
      })
      expect(area).toBeCloseTo(12, 12)
    }
  })
  test('values of corners by offsets of their own, and by the points', () => {
    const { scene } = text(
      mesh(
        `${SOURCE('t', '0 0 1 0 1 1', 'ST')}${SOURCE('c', '1 0 0 0 1 0', 'RGB')}<triangles count="1">${INPUT}<input semantic="TEXCOORD" source="#t" offset="1" set="3"/><input semantic="COLOR" source="#c" offset="2"/><p>0 2 0 1 1 0 2 0 1</p></triangles>`,
      ),
    )
    const [own] = scene.meshes
    expect([...own!.uvSets[0]!.indices]).toEqual([2, 1, 0])
    expect([...own!.colorSets[0]!.indices]).toEqual([0, 0, 1])
  })
  test('what corners say goes before what stands with the points, whichever is named first', () => {
    const both = (inputs: string): string =>
      mesh(
        `${SOURCE('n', '0 0 1 0 0 -1', 'XYZ')}<triangles count="1">${inputs}<p>0 1 1 1 2 1</p></triangles>`,
      ).replace(
        '<input semantic="POSITION" source="#p"/>',
        '<input semantic="POSITION" source="#p"/><input semantic="NORMAL" source="#p"/>',
      )
    const own = '<input semantic="NORMAL" source="#n" offset="1"/>'
    for (const inputs of [`${INPUT}${own}`, `${own}${INPUT}`]) {
      const { normals } = text(both(inputs)).scene.meshes[0]!
      expect([...normals!.indices].map((index) => normals!.values[3 * index + 2])).toEqual([-1, -1, -1])
    }
  })
  test('a list with one polygon that is not sound is read as without it, and one that is sound beside it too', () => {
    const cornersOf = (points: readonly number[], uvs: readonly number[]): string =>
      points.map((point, at) => `${point} ${uvs[at]}`).join(' ')
    const meshOf = (counts: readonly number[], lists: readonly string[]) =>
      text(
        mesh(
          `${SOURCE('u', '0 0 1 0 1 1 0 1', 'ST')}<polylist count="${counts.length}" material="a">${INPUT}<input semantic="TEXCOORD" source="#u" offset="1" set="0"/><input semantic="TEXCOORD" source="#u" offset="0" set="0"/><vcount>${counts.join(' ')}</vcount><p>${lists.join(' ')}</p></polylist><triangles count="1" material="b">${INPUT}<p>0 1 2</p></triangles>`,
        ),
      )
    const sound = [cornersOf([0, 1, 2, 3], [0, 1, 2, 3]), cornersOf([0, 2, 3], [3, 1, 0])]
    const plain = meshOf([4, 3], sound)
    expect(plain.findings.filter(({ code }) => code.startsWith('collada.'))).toEqual([])
    const [whole] = plain.scene.meshes
    expect([...whole!.faceVertices]).toEqual([0, 1, 2, 3, 0, 2, 3, 0, 1, 2])
    expect([...whole!.uvSets[0]!.indices]).toEqual([0, 1, 2, 3, 3, 1, 0, -1, -1, -1])
    for (const [count, bad] of [
      [3, cornersOf([0, 1, 99], [0, 0, 0])],
      [3, cornersOf([0, -1, 2], [0, 0, 0])],
      [2, cornersOf([0, 1], [0, 0])],
    ] as const) {
      const other = meshOf([4, count, 3], [sound[0]!, bad, sound[1]!])
      expect(other.findings.some(({ code }) => code.startsWith('collada.'))).toBe(true)
      const found = other.scene.meshes[0]!
      expect([...found.faceVertices]).toEqual([...whole!.faceVertices])
      expect([...found.uvSets[0]!.indices]).toEqual([...whole!.uvSets[0]!.indices])
    }
    // a UV that is not there is left out, and the polygon stays
    const loose = meshOf([4, 3], [sound[0]!, cornersOf([0, 2, 3], [3, 77, 0])]).scene.meshes[0]!
    expect([...loose.uvSets[0]!.indices]).toEqual([0, 1, 2, 3, 3, -1, 0, -1, -1, -1])
  })
  test('what moves a node, one after the other', () => {
    const node = (inside: string): readonly number[] =>
      text(
        `<library_visual_scenes><visual_scene id="s"><node id="n">${inside}</node></visual_scene></library_visual_scenes><scene><instance_visual_scene url="#s"/></scene>`,
      ).scene.nodes[0]!.local
    expect(node('<translate>1 2 3</translate><rotate>0 0 1 90</rotate><scale>2 3 4</scale>')).toEqual([0, 2, 0, 0, -3, 0, 0, 0, 0, 0, 4, 0, 1, 2, 3, 1]) // prettier-ignore
    expect(node('<rotate>0 0 1 90</rotate><translate>1 0 0</translate>').slice(12, 15)).toEqual([0, 1, 0])
    expect(node('<matrix>1 0 0 5 0 1 0 6 0 0 1 7 0 0 0 1</matrix>').slice(12, 15)).toEqual([5, 6, 7])
    expect(node('<lookat>0 0 5 0 0 0 0 1 0</lookat>')).toEqual([1, 0, -0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 5, 1].map((value) => value + 0)) // prettier-ignore
    expect(node('<skew>45 0 1 0 1 0 0</skew>')[4]).toBeCloseTo(1, 12)
  })
  test('a node that is shown within others is there as often; one within itself once', () => {
    const result = text(
      `<library_nodes><node id="lib" name="lib"><node id="in" name="in"/></node></library_nodes><library_visual_scenes><visual_scene id="s"><node id="a" name="a"><instance_node url="#lib"/><instance_node url="#lib"/><instance_node url="#a"/></node></visual_scene></library_visual_scenes><scene><instance_visual_scene url="#s"/></scene>`,
    )
    expect(result.scene.nodes.map(({ name }) => name)).toEqual(['a', 'lib', 'in', 'lib', 'in'])
    expect(codes(result)).toEqual(['collada.ring'])
  })
  test.each([
    ['A_ONE', '1 1 1 0.5', 0.5, 0.25],
    ['RGB_ZERO', '0.5 0.5 0.5 1', 0.5, 0.75],
    ['A_ZERO', '1 1 1 0.5', 0.5, 0.75],
    ['RGB_ONE', '0.5 0.5 0.5 1', 0.5, 0.25],
  ])('opacity counted %s', (mode, color, share, expected) => {
    const { scene } = text(
      `<library_effects><effect id="e"><profile_COMMON><technique><phong><transparent opaque="${mode}"><color>${color}</color></transparent><transparency><float>${share}</float></transparency></phong></technique></profile_COMMON></effect></library_effects><library_materials><material id="m" name="glass"><instance_effect url="#e"/></material></library_materials>`,
    )
    expect(scene.materials[0]!.properties.find(({ name }) => name === 'Opacity')!.values[0]).toBeCloseTo(
      expected,
      6,
    )
  })
  test.each([
    [
      'a point that is not there',
      `<triangles count="2">${INPUT}<p>0 1 99 0 1 2</p></triangles>`,
      'collada.index-out-of-range',
    ],
    [
      'a polygon of two',
      `<polygons count="2">${INPUT}<p>0 1</p><p>0 1 2</p></polygons>`,
      'collada.short-face',
    ],
    [
      'fewer corners than it says',
      `<polylist count="2">${INPUT}<vcount>3 9</vcount><p>0 1 2</p></polylist>`,
      'collada.part',
    ],
    ['a number that is none', `<triangles count="1">${INPUT}<p>0 1 two</p></triangles>`, 'collada.number'],
    [
      'a source that is not there',
      `<triangles count="1">${INPUT}<input semantic="TEXCOORD" source="#nowhere" offset="0"/><p>0 1 2</p></triangles>`,
      'collada.missing',
    ],
  ])('%s is told, the rest is read', (_name, body, code) => {
    const result = text(mesh(body))
    expect(codes(result)).toEqual([code])
    expect(result.scene.meshes[0]!.faceOffsets.length - 1).toBe(1)
  })
  test('a geometry of curves is told, and a version of its own', () => {
    const result = text('<library_geometries><geometry id="g" name="wire"><spline/></geometry></library_geometries><library_materials><material id="m"/></library_materials>', '2.0') // prettier-ignore
    expect(codes(result)).toEqual(['collada.version', 'collada.geometry'])
  })
  test.each([
    ['nothing', '', 'file.empty'],
    ['no XML', 'v 0 0 0\n', 'collada.xml'],
    ['XML that breaks off', '<COLLADA><asset>', 'collada.xml'],
    ['another document', '<html/>', 'file.not-a-model'],
    ['an empty one', '<COLLADA version="1.4.1"/>', 'file.not-a-model'],
    [
      'entities in entities',
      '<?xml version="1.0"?><!DOCTYPE c [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]><COLLADA version="1.4.1"><asset>&b;</asset></COLLADA>',
      'collada.xml',
    ],
    [
      'a file of the system',
      '<?xml version="1.0"?><!DOCTYPE c [<!ENTITY a SYSTEM "file:///etc/passwd">]><COLLADA version="1.4.1"><asset>&a;</asset></COLLADA>',
      'collada.xml',
    ],
    [
      'elements in elements',
      `<COLLADA version="1.4.1">${'<node>'.repeat(1000)}${'</node>'.repeat(1000)}</COLLADA>`,
      'collada.xml',
    ],
  ])('%s is refused in words', (_name, body, code) => {
    expect(() => readCollada({ name: 'x.dae', bytes: encodeUtf8(body) }, [])).toThrow(
      expect.objectContaining({ code }),
    )
  })
})

describe('written and read', () => {
  const write = (scene: Scene, options: Partial<ColladaWriteOptions> = {}) =>
    writeCollada(scene, 'x.dae', options)
  const back = (scene: Scene, options: Partial<ColladaWriteOptions> = {}): Scene => {
    const { files } = write(scene, options)
    return completeIds(readCollada(files[0]!, files).scene)
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
    // maps without a place are told, and are not in the file
    const isTold = write(scene).findings.some(({ parameters }) => /^the map/.test(String(parameters.what)))
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
      { numRuns: howMany(60, 2000), seed: 20261127 },
    )
  })
  test('a skin and shapes', () => {
    const joint = plainNode('hip', { role: 'LimbNode' })
    const scene: Scene = {
      ...sceneOf([
        cubeOf({
          shapes: [
            {
              name: 'open',
              points: Uint32Array.of(1, 5),
              offsets: Float64Array.of(0.5, 0, 0, 0, 0.25, 0),
              weight: 50,
            },
          ],
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
    }
    const full = completeIds({ ...scene, nodes: [...scene.nodes, joint] })
    const read = back(full)
    expect(changed(full, read).filter((trait) => trait !== 'scene')).toEqual([])
    expect(read.meshes[0]!.shapes[0]).toEqual(full.meshes[0]!.shapes[0])
    expect([...read.meshes[0]!.skin!.weights]).toEqual([...full.meshes[0]!.skin!.weights])
  })
  test('lengths of cameras go with the numbers of the scene', () => {
    const camera = {
      name: 'eye',
      node: 0,
      properties: { type: 'perspective', yfov: 40, znear: 0.5, zfar: 200 },
    }
    const metres = { unitMeters: 1, upAxis: 'y', frontAxis: 'z', handedness: 'right' } as const
    const scene: Scene = { ...sceneOf([cubeOf()], { space: metres }), cameras: [camera] }
    const lens = (options: Partial<ColladaWriteOptions>): number[] => {
      const { properties } = readCollada(writeCollada(scene, 'x.dae', options).files[0]!, []).scene
        .cameras[0]!
      return [properties.znear, properties.zfar] as number[]
    }
    expect(lens({ unitMeters: 0.01, unitAs: 'points' })).toEqual([50, 20000])
    expect(lens({ unitMeters: 0.01, unitAs: 'metadata' })).toEqual([0.5, 200])
    expect(lens({})).toEqual([0.5, 200])
  })
  test.each([
    ['count="36" stride="2"', 'count="1e-320" stride="2"'],
    ['count="36" stride="2"', 'count="35.5" stride="2"'],
    ['count="36" stride="2"', 'count="36" stride="1.5"'],
    ['count="36" stride="2"', 'count="36" stride="2" offset="0.25"'],
    ['count="36" stride="2"', 'count="1e999" stride="nan"'],
  ])('%s as %s: no index leads beyond its values', (from, to) => {
    const body = new TextDecoder().decode(
      beside.find(({ name }) => name === 'box_nested_animation.dae')!.bytes,
    )
    expect(body).toContain(from)
    const { scene } = readCollada({ name: 'x.dae', bytes: encodeUtf8(body.replaceAll(from, to)) }, [])
    for (const { uvSets } of scene.meshes)
      for (const { values, indices } of uvSets)
        for (const index of indices) expect(index).toBeLessThan(values.length / 2)
  })
  test.each(['1e999', '-2147483649', 'nan', '1.5', '999999999'])('a count of weights of %s ends', (count) => {
    const body = new TextDecoder().decode(
      beside.find(({ name }) => name === 'box_nested_animation.dae')!.bytes,
    )
    const bytes = encodeUtf8(body.replace('<vcount>1 1 1', `<vcount>1 ${count} 1`))
    const { scene, findings } = readCollada({ name: 'x.dae', bytes }, [])
    expect(codes({ findings })).toContain('collada.part')
    expect(scene.meshes[0]!.skin!.offsets.at(-1)).toBeLessThan(8)
  })
  test('animation is kept as it stands, and said', () => {
    const { scene, findings } = load('library_animation_clips.dae')
    expect(findings.map(({ code }) => code)).toEqual(['collada.kept'])
    const again = write(scene)
    const written = new TextDecoder().decode(again.files[0]!.bytes)
    expect(written).toContain('<library_animation_clips>')
    expect(readCollada(again.files[0]!, []).scene.kept).toEqual(scene.kept)
  })
  test('a changed colour counts, whatever the note beside it says', () => {
    const scene = sceneOf([{ ...cubeOf(), faceMaterials: new Int32Array(6) }], {
      materials: [materialOf('tin', { properties: [{ name: 'Kd', values: [0.8, 0.1, 0.1], text: null }] })],
    })
    const { files } = write(scene)
    const body = new TextDecoder().decode(files[0]!.bytes)
    expect(readCollada(files[0]!, []).scene.materials[0]!.model).toBe('mtl')
    const other = body.replace('>0.8 0.1 0.1 1<', '>0.2 0.1 0.1 1<')
    expect(other).not.toBe(body)
    const read = readCollada({ name: 'x.dae', bytes: encodeUtf8(other) }, []).scene.materials[0]!
    expect([read.model, read.properties[0]]).toEqual([
      'phong',
      { name: 'DiffuseColor', values: [0.2, 0.1, 0.1], text: null },
    ])
  })
  test('notes of a mesh that a tool has changed are left out and said', () => {
    const scene = sceneOf([
      cubeOf({ smoothing: { kind: 'groups', faceGroups: Int32Array.of(1, 1, 2, 2, 3, 3) } }),
    ])
    const { files } = write(scene)
    const body = new TextDecoder().decode(files[0]!.bytes)
    const other = body.replace('"points":8', '"points":9')
    expect(other).not.toBe(body)
    const result = readCollada({ name: 'x.dae', bytes: encodeUtf8(other) }, [])
    expect(codes(result)).toEqual(['collada.stale'])
    expect(result.scene.meshes[0]!.smoothing).toBeNull()
  })
  test('unit and up axis are stated, and the size is the same in metres', () => {
    const heron = completeIds(buildCourierHeron())
    for (const options of [
      { unitMeters: 1 },
      { upAxis: 'z' },
      { unitMeters: 0.0254, unitAs: 'roots', upAxis: 'x' },
    ] as const) {
      const read = back(heron, options)
      const { rows } = compareScenes(heron, read)
      for (const { cells } of rows) expect(cells.points!.state).toMatch(/same|within/)
      if ('unitMeters' in options) expect(read.space.unitMeters).toBe(options.unitMeters)
      if ('upAxis' in options) expect(read.space.upAxis).toBe(options.upAxis)
    }
  })
  test('assimp finds every corner, and who hangs under whom', async () => {
    const assimp = await loadAssimp('x.dae')
    for (const build of [buildCourierHeron, buildMooringBollard]) {
      // it cuts polygons in its own way
      const scene = triangulateScene(build())
      const { rootnode, meshes } = assimp(write(scene, { materials: 'none' }).files[0]!.bytes)
      const transposed = (rows: readonly number[]): number[] =>
        Array.from({ length: 16 }, (_value, at) => rows[4 * (at % 4) + Math.floor(at / 4)]!)
      /** Corners and their weight of each node, in the file's order: it calls nodes by their ids. */
      const found: number[][] = []
      const weigh = (points: Float64Array): number =>
        points.reduce((sum, value, at) => sum + ((at % 3) + 1) * value, 0)
      const walk = (node: AssimpNode, above: Matrix): void => {
        const world = multiplyMatrices(above, transposed(node.transformation))
        let own: number[] = []
        for (const index of node.meshes ?? []) {
          const { vertices, faces } = meshes[index]!
          const corners = faces.flat().flatMap((at) => vertices.slice(3 * at, 3 * at + 3))
          const [count = 0, sum = 0] = own
          own = [count + corners.length / 3, sum + weigh(transformPoints(Float64Array.from(corners), world))]
        }
        if (node !== root) found.push(own)
        for (const child of node.children ?? []) walk(child, world)
      }
      const root = { ...rootnode, transformation: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1] }
      walk(root, IDENTITY_MATRIX)
      const worlds = worldMatrices(scene)
      scene.nodes.forEach((node, index) => {
        if (node.mesh < 0) return
        const { points, faceVertices } = scene.meshes[node.mesh]!
        const corners = Float64Array.from(
          [...faceVertices].flatMap((point) => [...points.subarray(3 * point, 3 * point + 3)]),
        )
        const [count, sum] = found[index]!
        expect([node.name, count]).toEqual([node.name, faceVertices.length])
        const own = weigh(transformPoints(corners, worlds[index]!))
        expect(Math.abs(sum! - own)).toBeLessThan(1e-4 * Math.max(1, Math.abs(own)))
      })
    }
  })
})

describe('controllers are written for what is deformed alone', () => {
  const shape = { name: 'smile', points: Uint32Array.of(1), offsets: Float64Array.of(0, 1, 0) }
  const textOf = (mesh: Mesh, options = {}): string =>
    new TextDecoder().decode(writeCollada(sceneOf([mesh]), 'x.dae', options).files[0]!.bytes)
  const controllers = (mesh: Mesh, options = {}): number =>
    [...textOf(mesh, options).matchAll(/<controller /g)].length
  test('shapes, and not where they are left at home, or where there is nothing', () => {
    expect(controllers({ ...cubeOf(), shapes: [shape] })).toBe(1)
    expect(controllers({ ...cubeOf(), shapes: [shape] }, { shapes: false })).toBe(0)
    expect(controllers(cubeOf())).toBe(0)
    expect(controllers({ ...EMPTY_MESH, name: 'nothing', shapes: [shape] })).toBe(0)
    expect(textOf(cubeOf())).not.toContain('library_controllers')
  })
})

test('colours of points that no polygon has are told, not dropped', () => {
  const [mesh] = sceneOf([gridOf(1, 1)]).meshes
  const colors = { name: 'colour', components: 3 as const, values: new Float64Array(12).fill(0.5), per: 'points' as const, indices: new Int32Array(0) } // prettier-ignore
  const cloud = {
    ...mesh!,
    faceOffsets: new Uint32Array(1),
    faceVertices: new Uint32Array(0),
    colorSets: [colors],
  }
  const told = (colorsToo: boolean) =>
    writeCollada(sceneOf([cloud]), 'x.dae', { colors: colorsToo }).findings.map(
      ({ parameters }) => parameters.what,
    )
  expect(told(true)).toEqual(['colours of points that no polygon has'])
  expect(told(false)).toEqual([])
})
