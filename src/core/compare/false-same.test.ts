/** Whatever a scene holds, one value of it changed is never called the same: every field, a few places of each. */
import { describe, expect, test } from 'vitest'
import { defaultsOf } from '../base/options/option.ts'
import { chanceOf } from '../base/math/chance.ts'
import { compareScenes } from './compare-scenes.ts'
import { tellStory } from './story/tell-story.ts'
import { NOTES, noteText, TRAIT_DESCRIPTORS, type Trait } from './traits/registry.ts'
import { reconcile } from '../reconcile/reconcile.ts'
import { computeNormals } from '../mesh/normals/compute-normals.ts'
import { moveToSpace } from '../formats/arrange/arrange-scene.ts'
import { readPackage } from '../formats/package/read-package.ts'
import { endingOf, FORMATS, readBackOptions } from '../formats/registry.ts'
import type { KeptLayer, Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { gridOf, sceneOf } from '../../../tests/solids.ts'
import {
  changedAt,
  fullScene,
  HOLDS_IT_TOGETHER,
  IN_NO_LEDGER,
  leavesOf,
  NOT_OF_THE_MODEL,
  numbers,
} from '../../../tests/full-scene.ts'

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
