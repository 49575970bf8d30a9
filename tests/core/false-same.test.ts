/** Whatever a scene holds, one value of it changed is never called the same: every field, a few places of each. */
import { describe, expect, test } from 'vitest'
import { defaultsOf } from '../../src/core/base/options/option.ts'
import { chanceOf } from '../../src/core/base/math/chance.ts'
import { compareScenes } from '../../src/core/compare/compare-scenes.ts'
import { tellStory } from '../../src/core/compare/story/tell-story.ts'
import { NOTES, noteText, TRAIT_DESCRIPTORS, type Trait } from '../../src/core/compare/traits/registry.ts'
import { reconcile } from '../../src/core/reconcile/reconcile.ts'
import { computeNormals } from '../../src/core/mesh/normals/compute-normals.ts'
import { completeIds } from '../../src/core/scene/ids.ts'
import { moveToSpace } from '../../src/core/formats/arrange/arrange-scene.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { endingOf, FORMATS, readBackOptions } from '../../src/core/formats/registry.ts'
import type { KeptLayer, Mesh } from '../../src/core/scene/mesh.ts'
import { IDENTITY_MATRIX, type Scene } from '../../src/core/scene/scene.ts'
import { gridOf, materialOf, sceneOf, uvsOf } from '../solids.ts'

const numbers = (count: number, of: (at: number) => number): Float64Array =>
  Float64Array.from({ length: count }, (_value, at) => of(at))

/** A part with something of all that a part can have. */
function fullMesh(): Mesh {
  const plain = gridOf(4, 3)
  const points = plain.points.map((value, at) => value + 0.1 * Math.sin(3 * at))
  const pointCount = points.length / 3
  const corners = plain.faceVertices.length
  const faces = plain.faceOffsets.length - 1
  const mesh: Mesh = { ...plain, points }
  return {
    ...mesh,
    pointWeights: numbers(pointCount, (at) => 1 + at / 10),
    uvSets: [
      {
        ...uvsOf(
          [...mesh.faceVertices].map(
            (point) => [points[3 * point]! / 8, points[3 * point + 1]! / 8] as const,
          ),
        ),
        depths: numbers(corners, (at) => at / 50),
      },
      uvsOf(
        [...mesh.faceVertices].map((point) => [point / 40, (point % 5) / 10] as const),
        'second',
      ),
    ],
    normals: computeNormals(mesh, null),
    smoothing: { kind: 'edges', hardEdgePoints: mesh.faceVertices.slice(0, 4) },
    creases: {
      edgePoints: mesh.faceVertices.slice(4, 8),
      edgeSharpness: Float64Array.of(2, 3),
      cornerPoints: Uint32Array.of(0, 7),
      cornerSharpness: Float64Array.of(4, 5),
    },
    subdivision: { scheme: 'catmull-clark', levels: 2, renderLevels: 3, boundary: 'edge-only' },
    faceMaterials: Int32Array.from({ length: faces }, (_value, at) => at % 2),
    groups: {
      names: ['left', 'right'],
      sets: [[0], [1], [0, 1]],
      faceSets: Int32Array.from({ length: faces }, (_value, at) => at % 3),
    },
    colorSets: [
      {
        name: 'dirt',
        components: 4,
        values: numbers(4 * pointCount, (at) => (at % 7) / 10),
        per: 'points',
        indices: new Int32Array(0),
      },
      {
        name: 'wear',
        components: 3,
        values: numbers(3 * corners, (at) => (at % 9) / 10),
        per: 'corners',
        indices: Int32Array.from({ length: corners }, (_value, at) => at),
      },
    ],
    shapes: [
      {
        name: 'smile',
        points: Uint32Array.of(1, 2, 5),
        offsets: numbers(9, (at) => at / 10),
        normals: numbers(9, (at) => at / 20),
        channel: 'mouth',
        fullWeight: 60,
        weight: 10,
      },
    ],
    skin: {
      jointNodes: Int32Array.of(1, 2),
      jointBinds: Float64Array.from([...IDENTITY_MATRIX, ...IDENTITY_MATRIX]),
      meshBinds: Float64Array.from([...IDENTITY_MATRIX, ...IDENTITY_MATRIX]),
      method: 'linear',
      offsets: Uint32Array.from({ length: pointCount + 1 }, (_value, at) => 2 * at),
      joints: Uint32Array.from({ length: 2 * pointCount }, (_value, at) => at % 2),
      weights: numbers(2 * pointCount, (at) => (at % 2 ? 0.25 : 0.75)),
    },
    lines: {
      offsets: Uint32Array.of(0, 3, 5),
      points: Uint32Array.of(0, 1, 2, 6, 7),
      uvs: Int32Array.of(0, 1, 2, 3, 4),
    },
    pointElements: Uint32Array.of(3, 4),
    layers: [
      {
        kind: 'tangents',
        name: 'tangent',
        per: 'corners',
        width: 3,
        values: numbers(3 * corners, (at) => Math.cos(at)),
        indices: null,
        edgePoints: null,
        whole: false,
      },
    ],
  }
}

function fullScene(): Scene {
  const scene = sceneOf([fullMesh()])
  const [part] = scene.nodes
  const bone = (name: string, parent: number) => ({
    ...part!,
    id: '',
    name,
    parent,
    mesh: -1,
    role: 'limb',
    local: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 1, 2, 3, 1],
  })
  return completeIds({
    ...scene,
    nodes: [
      {
        ...part!,
        local: [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 4, 5, 6, 1],
        properties: { note: 'front', number: 3, list: [1, 2] },
        transform: {
          translation: [4, 5, 6],
          rotation: [Math.PI / 2, 0, 0],
          rotationOrder: 'xzy',
          scale: [1, 1, 1],
          rotationPivot: [1, 2, 3],
          scalePivot: [0, 1, 0],
          rotationOffset: [0, 0, 1],
          scaleOffset: [0, 2, 0],
          preRotation: [0.1, 0, 0],
          postRotation: [0, 0.1, 0],
          inherits: 'turn-then-scale',
        },
      },
      bone('hip', -1),
      bone('knee', 1),
    ],
    materials: [
      materialOf('brass', {
        properties: [{ name: 'Kd', values: [0.5, 0.4, 0.1], text: null }],
        maps: [{ property: 'map_Kd', slot: 'baseColor', file: 'brass.png', options: [['-bm', '0.5']] }],
      }),
      materialOf('glass', { kept: ['sharpness 60'] }),
    ],
    cameras: [{ name: 'front', node: 1, properties: { FieldOfView: 40 } }],
    lights: [{ name: 'lamp', node: 2, properties: { Intensity: 100 } }],
    properties: { Season: 'autumn' },
  })
}

type Path = readonly (string | number)[]

/** Every place where a value stands; of long lists of numbers a few. */
function leavesOf(value: unknown, path: Path, chance: () => number): Path[] {
  if (ArrayBuffer.isView(value)) {
    const { length } = value as Float64Array
    const few =
      length > 4
        ? [0, length - 1, ...[1, 2].map(() => Math.floor(chance() * length))]
        : [...Array(length).keys()]
    return [...new Set(few)].map((at) => [...path, at])
  }
  if (value === null || value === undefined) return []
  if (typeof value === 'object')
    return Object.entries(value).flatMap(([key, own]) =>
      leavesOf(own, [...path, Array.isArray(value) ? Number(key) : key], chance),
    )
  return [path]
}

const FURTHER: Readonly<Record<string, readonly string[]>> = {
  upAxis: ['y', '-x'],
  frontAxis: ['z', 'x'],
  handedness: ['right', 'left'],
  scheme: ['catmull-clark', 'loop'],
  boundary: ['edge-only', 'edge-and-corner'],
  rotationOrder: ['xzy', 'yxz'],
  inherits: ['turn-then-scale', 'no-scale'],
}

/** The same with another value there. */
function changedAt(value: unknown, path: Path): unknown {
  const [key, ...rest] = path
  if (key === undefined) {
    if (typeof value === 'number') return value + 1
    if (typeof value === 'boolean') return !value
    return `${String(value)}_2`
  }
  if (ArrayBuffer.isView(value)) {
    const copy = (value as Float64Array).slice()
    const at = key as number
    copy[at] = copy instanceof Float64Array ? copy[at]! + 0.25 : copy[at] === 0 ? 1 : copy[at]! - 1
    return copy
  }
  if (Array.isArray(value))
    return value.map((own, at) => (at === key ? changedAt(own, rest) : (own as unknown)))
  const own = (value as Record<string, unknown>)[key]
  const others = FURTHER[key as string]
  // there are three nodes
  if (key === 'node') return { ...(value as object), node: ((own as number) + 1) % 3 }
  const next = others && rest.length === 0 ? others.find((other) => other !== own) : changedAt(own, rest)
  return { ...(value as object), [key]: next }
}

/** What says nothing of the model that another field doesn't: names inside Kelbo, where a file had it, how a matrix is written. */
const NOT_OF_THE_MODEL =
  /(^|\.)(id|source|format|formatVersion|mesh|role|slot)$|^meshes\.0\.name$|transform$|transform\.(translation|rotation|scale)\./
/** Layers that Kelbo only carries are in no ledger; a file that can't hold them says so when it is written. */
const IN_NO_LEDGER = /\.layers\./
/** What no longer is a scene with another number there. */
const HOLDS_IT_TOGETHER =
  /(parent|faceOffsets\.\d+|skin\.offsets\.\d+|lines\.offsets\.\d+|width|smoothing\.kind|components|per)$/

const master = fullScene()
const isTold = (returned: Scene): boolean => {
  const ledger = compareScenes(master, returned)
  const { rows, scene } = ledger
  const [story] = tellStory(ledger, {
    titleOf: (trait) => TRAIT_DESCRIPTORS[trait as Trait].title,
    isToolsOwn: (note) => NOTES[note]?.toolsOwn === true,
  })
  if (story!.startsWith('Nothing changed')) return false
  return [scene, ...rows.flatMap(({ cells }) => Object.values(cells))].some((cell) => cell!.state !== 'same')
}

test('it is the same as itself', () => {
  expect(isTold(structuredClone(master))).toBe(false)
})

test('one value changed anywhere is told', () => {
  const untold = leavesOf(master, [], chanceOf(5))
    .filter(
      (path) => ![NOT_OF_THE_MODEL, IN_NO_LEDGER, HOLDS_IT_TOGETHER].some((not) => not.test(path.join('.'))),
    )
    .filter((path) => !isTold(changedAt(master, path) as Scene))
    .map((path) => path.join('.'))
  expect(untold).toEqual([])
})

/** Traits that may be taken and are told as other ones there. */
function toldOf(own: Scene, returned: Scene): Trait[] {
  const { rows, scene } = compareScenes(own, returned)
  const told = new Set<Trait>()
  for (const { cells } of rows)
    for (const [trait, cell] of Object.entries(cells))
      if (!['same', 'within'].includes(cell!.state)) told.add(trait as Trait)
  if (!['same', 'within'].includes(scene.state)) told.add('scene')
  return [...told]
}

/** Names of sets and joints that the master has stay, and places in a space that is another one; an edge of one point is none. */
const STAYS = /^space|(uvSets|colorSets)\.\d\.name|nodes\.[12]\.name|edgePoints|shapes\.\d\.points/

test('what is told can be taken, and then it is as it came back', () => {
  const left: string[] = []
  for (const path of leavesOf(master, [], chanceOf(6))) {
    if ([NOT_OF_THE_MODEL, IN_NO_LEDGER, HOLDS_IT_TOGETHER, STAYS].some((not) => not.test(path.join('.'))))
      continue
    const returned = changedAt(master, path) as Scene
    const told = toldOf(master, returned)
    const { scene, taken } = reconcile(master, returned, { take: told })
    const still = toldOf(scene, returned)
    if (still.length || Object.keys(taken).length === 0)
      left.push(`${path.join('.')}: ${told.join()} -> ${still.join()} ${JSON.stringify(taken)}`)
  }
  expect(left).toEqual([])
})

test.each([
  ['unit', { unitMeters: 1, upAxis: null, frontAxis: null }],
  ['axes', { unitMeters: null, upAxis: 'z', frontAxis: '-y' }],
  ['both', { unitMeters: 0.0254, upAxis: 'z', frontAxis: 'x' }],
] as const)('in another space (%s) nothing but the space is told', (_what, to) => {
  const moved = moveToSpace(master, { ...to, mirrored: null, unitAs: 'points', axesAs: 'points', scale: 1 })
  const parts = compareScenes(master, moved).rows.flatMap(({ cells }) =>
    Object.entries(cells).flatMap(([trait, cell]) =>
      ['same', 'within'].includes(cell!.state) ? [] : [`${trait} ${cell!.note}`],
    ),
  )
  // pivots are numbers of the space
  expect(parts).toEqual(['transforms pivots-changed'])
})

/** What is said of one field that is another one. */
const said = (change: (mesh: Mesh) => Partial<Mesh>, trait: Trait): string => {
  const returned = { ...master, meshes: [{ ...master.meshes[0]!, ...change(master.meshes[0]!) }] }
  const { note, parameters } = compareScenes(master, returned).rows[0]!.cells[trait]!
  return noteText(note, parameters)
}

test('each is told in words of its own', () => {
  const [first, second] = master.meshes[0]!.uvSets
  expect(
    said(
      ({ pointWeights }) => ({ pointWeights: pointWeights!.map((value, at) => value + (at < 3 ? 1 : 0)) }),
      'points',
    ),
  ).toBe('No point moved; 3 of 20 have another rational weight.')
  expect(said(() => ({ uvSets: [{ ...first!, depths: null }, second!] }), 'uvs')).toBe(
    'The UVs are the same; the third coordinate of 47 of 48 corners is another one.',
  )
  expect(
    said(({ subdivision }) => ({ subdivision: { ...subdivision, levels: 1, renderLevels: 1 } }), 'creases'),
  ).toBe(
    'It is subdivided otherwise: catmull-clark to level 2, level 3 for rendering, borders rounded at corners in the master, catmull-clark to level 1, borders rounded at corners in what came back.',
  )
  expect(said(() => ({ lines: null, pointElements: Uint32Array.of(3, 4, 5) }), 'topology')).toBe(
    'The polygons are the same; 2 lines or single points are gone, 1 is new.',
  )
  expect(
    said(({ colorSets }) => ({ colorSets: [{ ...colorSets[0]!, name: 'mud' }, colorSets[1]!] }), 'colours'),
  ).toBe('The colours are the same; the set is called “mud” instead of “dirt”.')
  expect(said(({ shapes }) => ({ shapes: [{ ...shapes[0]!, weight: 50 }] }), 'shapes')).toBe(
    'The shapes are the same; 1 of 1 is set to another weight.',
  )
  expect(said(({ skin }) => ({ skin: { ...skin!, method: 'dual quaternion' } }), 'shapes')).toBe(
    'The shapes and weights are the same; the skin was bound to its joints otherwise.',
  )
  const { nodes } = master
  const [part, hip, knee] = nodes
  const seen = compareScenes(master, { ...master, nodes: [{ ...part!, visible: false }, hip!, knee!] })
  const { note, parameters } = seen.rows[0]!.cells.transforms!
  expect(noteText(note, parameters)).toBe('It stands where it stood; it was shown and came back hidden.')
  const without = compareScenes(master, {
    ...master,
    lights: [{ ...master.lights[0]!, node: 1 }],
    nodes: [part!, hip!],
  })
  expect(noteText(without.scene.note, without.scene.parameters)).toBe('Changed: settings of 1 light.')
  const gone = compareScenes({ ...master, lights: [] }, { ...master, lights: [], nodes: [part!, hip!] })
  expect([gone.scene.state, noteText(gone.scene.note, gone.scene.parameters)]).toEqual([
    'without',
    '1 node without polygons did not come back; the master keeps what it has.',
  ])
})

test('opacity of colours: none said is full', () => {
  const colors = (components: 3 | 4, alpha: number): Scene => ({
    ...master,
    meshes: [
      {
        ...master.meshes[0]!,
        colorSets: [
          {
            name: 'dirt',
            components,
            values: numbers(components * 20, (at) => (components === 4 && at % 4 === 3 ? alpha : 0.5)),
            per: 'points',
            indices: new Int32Array(0),
          },
        ],
      },
    ],
  })
  const state = (from: Scene, to: Scene): string => compareScenes(from, to).rows[0]!.cells.colours!.state
  expect(state(colors(3, 1), colors(4, 1))).toBe('same')
  expect(state(colors(4, 1), colors(3, 1))).toBe('same')
  expect(state(colors(4, 0.5), colors(3, 1))).toBe('changed')
  // taking them onto another kind keeps what has no counterpart
  const taken = reconcile(colors(3, 1), colors(4, 0.5), { take: ['colours'] })
  expect(taken.taken).toEqual({ colours: 1 })
  expect(taken.scene.meshes[0]!.colorSets[0]!.components).toBe(4)
})

/** Of what no ledger tells: what a file can't hold of it is told when it is written. */
describe.each(FORMATS.map((format) => [format.id, format] as const))('%s', (_id, format) => {
  const written = (mesh: Mesh) => {
    const options = defaultsOf(format.writeOptions)
    const out = format.write(sceneOf([mesh]), `x${endingOf(format, options)}`, options)
    const { scene } = readPackage(out.files, readBackOptions(out.space, options))
    return { mesh: scene.meshes[0]!, told: out.findings.some(({ code }) => code === 'write.not-carried') }
  }
  const plain = gridOf(4, 3)
  const layer = (kind: string, per: 'corners' | 'points' | 'faces', width: number): KeptLayer => {
    const count = { corners: plain.faceVertices.length, points: plain.points.length / 3, faces: plain.faceOffsets.length - 1 }[per] // prettier-ignore
    const values = numbers(width * count, (at) => Math.cos(at))
    return { kind, name: '', per, width, values, indices: null, edgePoints: null, whole: false }
  }
  test.each([
    layer('tangents', 'corners', 3),
    layer('heat', 'points', 1),
    layer('holes', 'faces', 1),
    layer('dust', 'corners', 2),
  ])('a layer of $kind of $per comes back, or is told', (own) => {
    for (const normals of [null, computeNormals(plain, null)]) {
      const { mesh, told } = written({ ...plain, normals, layers: [own] })
      const isThere = mesh.layers?.some(({ kind, per }) => kind === own.kind && per === own.per) === true
      expect([normals !== null, isThere || told]).toEqual([normals !== null, true])
    }
  })
  test('how far a shape is set and how it turns normals come back, or are told', () => {
    const shape = { name: 'smile', points: Uint32Array.of(1, 2), offsets: numbers(6, (at) => at / 10) }
    const set = written({ ...plain, shapes: [{ ...shape, weight: 30 }] })
    expect(set.told || Math.round(set.mesh.shapes[0]?.weight ?? 0) === 30).toBe(true)
    const turned = written({ ...plain, shapes: [{ ...shape, normals: numbers(6, (at) => at / 20) }] })
    expect(turned.told || turned.mesh.shapes[0]?.normals?.some((value) => value !== 0)).toBe(true)
  })
})

test('lines that nobody understood replace no description of a material', () => {
  const [brass, glass] = master.materials
  const returned = {
    ...master,
    materials: [
      { ...brass!, properties: [], maps: [], kept: ['sharpness 60'] },
      { ...glass!, kept: [] },
    ],
  }
  expect(compareScenes(master, returned).rows[0]!.cells.surfaces!.state).toBe('lost')
  const { scene, taken } = reconcile(master, returned, { take: ['surfaces'] })
  expect(taken).toEqual({})
  expect(scene.materials).toEqual(master.materials)
})
