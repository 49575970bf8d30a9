/** A return that meets a master which has moved on: base, returned, master, whatever was changed where. */
import { describe, expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { flatten } from '../../practice/faults/scene-faults.ts'
import { materialOf } from '../../../../tests/solids.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { TRAITS, type Trait } from '../../compare/traits/registry.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { renumberMesh } from '../../practice/standins/sculptor.ts'
import { triangulateScene } from '../../formats/arrange/arrange-scene.ts'
import { completeIds } from '../../scene/ids.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { plainNode, type Scene } from '../../scene/scene.ts'
import { reconcileThreeWays } from './reconcile-three-ways.ts'

const base = flatten(buildCourierHeron())
const PARTS = base.nodes.length

const withMesh = (scene: Scene, part: number, change: (mesh: Mesh) => Mesh): Scene => ({
  ...scene,
  meshes: scene.meshes.map((mesh, at) => (at === part ? change(mesh) : mesh)),
})
/** Points of which `which` says so, raised. */
const raise = (
  scene: Scene,
  part: number,
  by: number,
  which: (point: number) => boolean = () => true,
): Scene =>
  withMesh(scene, part, (mesh) => ({
    ...mesh,
    points: mesh.points.map((value, at) => (at % 3 === 1 && which(Math.floor(at / 3)) ? value + by : value)),
  }))
const halveUvs = (scene: Scene, part: number): Scene =>
  withMesh(scene, part, (mesh) => ({
    ...mesh,
    uvSets: mesh.uvSets.map((set) => ({ ...set, values: set.values.map((value) => value / 2) })),
  }))
/** As a file comes back: other ids, other numbers. */
const travelled = (scene: Scene, seed: number | null = 3): Scene => ({
  ...scene,
  nodes: scene.nodes.map((node) => ({ ...node, id: '' })),
  meshes: scene.meshes.map((mesh, at) => ({
    ...(seed === null ? mesh : renumberMesh(mesh, seed + at)),
    id: '',
  })),
})
const merge = (returned: Scene, master: Scene, take: Trait[], choices = {}, seed: number | null = 3) =>
  reconcileThreeWays(base, travelled(returned, seed), master, { take, choices })

describe('changed on one side only', () => {
  test('sculpted there, new UVs here: both', () => {
    const { scene, conflicts, taken, parts } = merge(raise(base, 0, 1), halveUvs(base, 0), ['points'])
    expect([conflicts, taken]).toEqual([[], { points: 1 }])
    expect(parts).toEqual([{ id: base.nodes[0]!.id, name: 'body', traits: { points: 'there', uvs: 'here' } }])
    expect(fingerprintScene(scene!)).toEqual(fingerprintScene(halveUvs(raise(base, 0, 1), 0)))
  })
  test('nothing there: the master as it is', () => {
    const master = halveUvs(raise(base, 2, 3), 1)
    const { scene, taken } = merge(base, master, [...TRAITS])
    expect(fingerprintScene(scene!)).toEqual(fingerprintScene(master))
    expect(taken).toEqual({})
  })
  test('nothing here: what the trip alone would have made', () => {
    const { scene } = merge(raise(base, 4, 2), base, ['points'])
    expect(fingerprintScene(scene!)).toEqual(fingerprintScene(raise(base, 4, 2)))
  })
  test('the same on both sides', () => {
    const { conflicts, parts, scene } = merge(raise(base, 1, 2), raise(base, 1, 2), ['points'])
    expect([conflicts, parts[0]!.traits]).toEqual([[], { points: 'alike' }])
    expect(fingerprintScene(scene!)).toEqual(fingerprintScene(raise(base, 1, 2)))
  })
  test('renamed and triangulated here, sculpted there: by ids, on the polygons that are here', () => {
    const master = triangulateScene(base)
    const renamed = {
      ...master,
      nodes: master.nodes.map((node, at) => (at ? node : { ...node, name: 'torso' })),
    }
    const { scene, conflicts, parts } = merge(raise(base, 0, 1), renamed, ['points'])
    expect(conflicts).toEqual([])
    expect(parts.map(({ traits }) => traits.topology)).toEqual(Array(PARTS).fill('here'))
    expect(scene!.nodes[0]!.name).toBe('torso')
    expect(fingerprintScene(scene!)).toEqual(fingerprintScene(raise(renamed, 0, 1)))
  })
})

test('cut into triangles on the way out, sculpted there: back on the polygons of the version', () => {
  const sent = triangulateScene(base)
  const { scene, conflicts, taken } = reconcileThreeWays(sent, travelled(raise(sent, 0, 1)), base, {
    take: ['points'],
  })
  expect([conflicts, taken]).toEqual([[], { points: 1 }])
  expect(fingerprintScene(scene!)).toEqual(fingerprintScene(raise(base, 0, 1)))
})

test('cut into triangles on the way out, painted and laid anew there: on the polygons of the version, a corner as a corner', () => {
  const sent = triangulateScene(base)
  const painted: Scene = {
    ...halveUvs(sent, 0),
    materials: [...sent.materials, materialOf('tar')],
  }
  const cut = sent.meshes[0]!
  const whole = base.meshes[0]!
  // the first polygons of the version, by the points of their pieces
  const first = new Set(whole.faceVertices.subarray(0, whole.faceOffsets[20]))
  const isFirst = (face: number): boolean => [...cut.faceVertices.subarray(cut.faceOffsets[face], cut.faceOffsets[face + 1])].every((point) => first.has(point)) // prettier-ignore
  const there = withMesh(painted, 0, (mesh) => ({
    ...mesh,
    faceMaterials: mesh.faceMaterials!.map((material, face) => (isFirst(face) ? painted.materials.length - 1 : material)),
  })) // prettier-ignore
  const { scene, conflicts, taken } = reconcileThreeWays(sent, travelled(there, null), base, { take: ['materials', 'uvs'] }) // prettier-ignore
  expect([conflicts, taken]).toEqual([[], { materials: 1, uvs: 1 }])
  expect(fingerprintScene(scene!).uvs).toEqual(fingerprintScene(halveUvs(base, 0)).uvs)
  const made = scene!.meshes[scene!.nodes[0]!.mesh]!
  expect(made.faceOffsets).toEqual(whole.faceOffsets)
  for (let face = 0; face < 20; face++) expect(scene!.materials[made.faceMaterials![face]!]!.name).toBe('tar')
  const counted = made.faceMaterials!.filter((material) => scene!.materials[material]!.name === 'tar').length
  const covered = Array.from({ length: whole.faceOffsets.length - 1 }, (_face, face) => [...whole.faceVertices.subarray(whole.faceOffsets[face], whole.faceOffsets[face + 1])].every((point) => first.has(point))).filter(Boolean).length // prettier-ignore
  expect(counted).toBe(covered)
})

describe('changed on both sides', () => {
  test('other points of one part: both, and nothing to choose', () => {
    const left = (point: number): boolean => point < 200
    const { scene, conflicts, parts } = merge(
      raise(base, 0, 1, left),
      raise(base, 0, -1, (point) => !left(point)),
      ['points'],
    )
    expect([conflicts, parts[0]!.traits.points]).toEqual([[], 'merged'])
    expect(fingerprintScene(scene!)).toEqual(
      fingerprintScene(raise(raise(base, 0, 1, left), 0, -1, (point) => !left(point))),
    )
  })
  test('of a part further down the list: that one, and no other', () => {
    const left = (point: number): boolean => point < 100
    const [there, here] = [raise(base, 3, 1, left), raise(base, 3, -1, (point) => !left(point))]
    const { scene, parts } = merge(there, here, ['points'])
    expect(parts).toEqual([
      { id: base.nodes[3]!.id, name: base.nodes[3]!.name, traits: { points: 'merged' } },
    ])
    expect(fingerprintScene(scene!)).toEqual(fingerprintScene(raise(raise(base, 3, 1, left), 3, -1, (point) => !left(point)))) // prettier-ignore
  })
  test('numbered anew here, and the same points moved on both sides: not put together number by number', () => {
    const here = withMesh(raise(base, 0, 2), 0, (mesh) => renumberMesh(mesh, 8))
    const { conflicts } = merge(raise(base, 0, 1, (point) => point < 60), here, ['points']) // prettier-ignore
    expect(conflicts).toEqual([{ id: base.nodes[0]!.id, name: 'body', trait: 'points', elements: null }])
  })
  test('the same points, otherwise: a conflict of so many, chosen for either side', () => {
    const [there, here] = [
      raise(base, 0, 1, (point) => point < 60),
      raise(base, 0, 2, (point) => point >= 50),
    ]
    const open = merge(there, here, ['points'])
    const id = base.nodes[0]!.id
    expect([open.scene, open.conflicts]).toEqual([
      null,
      [{ id, name: 'body', trait: 'points', elements: 10 }],
    ])
    const height = (scene: Scene | null, point: number): number =>
      scene!.meshes[scene!.nodes[0]!.mesh]!.points[3 * point + 1]! - base.meshes[0]!.points[3 * point + 1]!
    for (const [side, both] of [
      ['there', 1],
      ['here', 2],
    ] as const) {
      const { scene, conflicts } = merge(there, here, ['points'], { [id]: { points: side } })
      expect(conflicts).toEqual([])
      // what only one side moved is that side's, whoever is chosen for the rest
      expect([10, 55, 100].map((point) => Math.round(height(scene, point) * 1e6) / 1e6)).toEqual([1, both, 2])
    }
  })
  test('materials of other polygons: both; of the same: a conflict', () => {
    const master0 = { ...base, materials: [...base.materials, materialOf('tar'), materialOf('chalk')] }
    const paint = (which: (face: number) => boolean, name: string): Scene =>
      withMesh(master0, 0, (mesh) => ({
        ...mesh,
        faceMaterials: mesh.faceMaterials!.map((material, face) =>
          which(face) ? master0.materials.findIndex((candidate) => candidate.name === name) : material,
        ),
      }))
    const names = (scene: Scene): string[] =>
      [...scene.meshes[scene.nodes[0]!.mesh]!.faceMaterials!].map((at) => scene.materials[at]!.name)
    const both = merge(
      paint((face) => face < 20, 'tar'),
      paint((face) => face >= 40, 'chalk'),
      ['materials'],
    )
    expect(both.conflicts).toEqual([])
    expect([names(both.scene!)[5], names(both.scene!)[30], names(both.scene!)[50]]).toEqual([
      'tar',
      names(base)[30],
      'chalk',
    ])
    const against = merge(
      paint((face) => face < 20, 'tar'),
      paint((face) => face < 5, 'chalk'),
      ['materials'],
    )
    expect(against.conflicts).toMatchObject([{ trait: 'materials', elements: 5 }])
  })
  test('UV islands: whole ones, or a conflict', () => {
    const set = base.meshes[0]!.uvSets[0]!
    const shift = (scene: Scene, which: (u: number) => boolean, by: number): Scene =>
      withMesh(scene, 0, (mesh) => ({ ...mesh, uvSets: [{ ...set, values: set.values.map((value, at) => (at % 2 === 0 && which(value) ? value + by : value)) }] })) // prettier-ignore
    const same = merge(
      shift(base, () => true, 1),
      shift(base, () => true, 2),
      ['uvs'],
    )
    expect(same.conflicts).toMatchObject([{ trait: 'uvs' }])
    const chosen = merge(
      shift(base, () => true, 1),
      shift(base, () => true, 2),
      ['uvs'],
      {
        [base.nodes[0]!.id]: { uvs: 'here' },
      },
    )
    expect(fingerprintScene(chosen.scene!).uvs).toEqual(fingerprintScene(shift(base, () => true, 2)).uvs)
  })
  test('a part that was taken out here does not come back by the way; a new one from there does', () => {
    const master: Scene = { ...base, nodes: base.nodes.slice(1) }
    const hat = { ...base.meshes[0]!, name: 'hat', id: '', points: base.meshes[0]!.points.map((value) => value + 300), uvSets: [] } // prettier-ignore
    const there = completeIds({
      ...raise(base, 0, 1),
      meshes: [...raise(base, 0, 1).meshes, hat],
      nodes: [...base.nodes, plainNode('hat', { mesh: base.meshes.length })],
    })
    const { scene, findings } = merge(there, master, ['points', 'topology'])
    expect(findings.map(({ code }) => code)).toContain('reconcile.gone-here')
    const gone = findings.find(({ code }) => code === 'reconcile.gone-here')!
    expect(gone.parameters).toEqual({ name: base.nodes[0]!.name })
    expect(scene!.nodes.map(({ name }) => name)).toEqual([
      ...base.nodes.slice(1).map(({ name }) => name),
      'hat',
    ])
  })
})

test('whatever is changed where: nothing that only one side changed is lost, and the rest is asked for', () => {
  for (let seed = 0; seed < 25; seed++) {
    const chance = chanceOf(50 + seed)
    /** For each part what each side does: nothing, other points, other UVs. */
    const plan = Array.from({ length: PARTS }, () =>
      [0, 1].map(() => [chance() < 0.3, chance() < 0.3] as const),
    )
    const apply = (side: 0 | 1): Scene =>
      plan.reduce((scene, sides, part) => {
        const [points, uvs] = sides[side]!
        const moved = points ? raise(scene, part, side + 1) : scene
        return uvs && side === 0 ? halveUvs(moved, part) : moved
      }, base)
    const { scene, conflicts } = merge(apply(0), apply(1), ['points', 'uvs'], {}, null)
    const clashing = plan.flatMap((sides, part) =>
      sides[0]![0] && sides[1]![0] ? [base.nodes[part]!.name] : [],
    )
    expect([seed, conflicts.map(({ name, trait }) => `${name} ${trait}`)]).toEqual([
      seed,
      clashing.map((name) => `${name} points`),
    ])
    if (clashing.length) {
      expect(scene).toBeNull()
      continue
    }
    const expected = plan.reduce((whole, sides, part) => {
      const by = sides[0]![0] ? 1 : sides[1]![0] ? 2 : 0
      const moved = by ? raise(whole, part, by) : whole
      return sides[0]![1] ? halveUvs(moved, part) : moved
    }, base)
    expect([seed, fingerprintScene(scene!)]).toEqual([seed, fingerprintScene(expected)])
  }
})

describe('the scene itself, and parts that only one side has', () => {
  const withLight = (intensity: number): Scene => ({ ...base, lights: [{ name: 'lamp', node: 0, properties: { Intensity: intensity } }] }) // prettier-ignore
  const lightOf = (scene: Scene | null): unknown => scene!.lights[0]?.properties.Intensity
  test('changed there: taken where asked for; changed here: it stays', () => {
    const there = merge(withLight(2), base, ['scene'])
    expect([there.parts, there.taken, lightOf(there.scene)]).toEqual([
      [{ id: '', name: '', traits: { scene: 'there' } }],
      { scene: 1 },
      2,
    ])
    const unasked = merge(withLight(2), base, ['points'])
    expect([unasked.parts, unasked.scene!.lights]).toEqual([[], []])
    const here = merge(base, withLight(3), ['scene'])
    expect([here.parts, here.taken, lightOf(here.scene)]).toEqual([
      [{ id: '', name: '', traits: { scene: 'here' } }],
      {},
      3,
    ])
  })
  test('on both sides: asked for, and each as it is chosen', () => {
    const open = merge(withLight(2), withLight(3), ['scene'])
    expect([open.scene, open.taken, open.conflicts]).toEqual([
      null,
      {},
      [{ id: '', name: '', trait: 'scene', elements: null }],
    ])
    for (const [side, intensity] of [
      ['there', 2],
      ['here', 3],
    ] as const) {
      const { scene, conflicts, parts } = merge(withLight(2), withLight(3), ['scene'], {
        '': { scene: side },
      })
      expect([conflicts, parts, lightOf(scene)]).toEqual([
        [],
        [{ id: '', name: '', traits: { scene: 'conflict' } }],
        intensity,
      ])
    }
  })
  test('a part that is new here stays, and one that was taken out here is told of only where it came back changed', () => {
    const hat = { ...base.meshes[1]!, name: 'hat', id: '' }
    const master = completeIds({
      ...base,
      meshes: [...base.meshes, hat],
      nodes: [...base.nodes.slice(1), plainNode('hat', { mesh: base.meshes.length })],
    })
    const { scene, findings, parts } = merge(raise(base, 3, 1), master, ['points'])
    expect(findings).toEqual([])
    expect(parts.map(({ name }) => name)).toEqual([base.nodes[3]!.name])
    expect(scene!.nodes.map(({ name }) => name)).toEqual(master.nodes.map(({ name }) => name))
    expect(fingerprintScene(scene!)).toEqual(fingerprintScene(raise(master, 3, 1)))
  })
  test('polygons of a part changed on both sides: a conflict as a whole, and whoever is chosen has it', () => {
    const without = (scene: Scene, faces: number): Scene =>
      withMesh(scene, 0, (mesh) => {
        const offsets = mesh.faceOffsets.slice(0, mesh.faceOffsets.length - faces)
        const end = offsets.at(-1)!
        const count = offsets.length - 1
        return { ...mesh, faceOffsets: offsets, faceVertices: mesh.faceVertices.slice(0, end), faceMaterials: mesh.faceMaterials?.slice(0, count) ?? null, groups: mesh.groups && { ...mesh.groups, faceSets: mesh.groups.faceSets.slice(0, count) }, smoothing: null, normals: null, layers: null, uvSets: mesh.uvSets.map((set) => ({ ...set, indices: set.indices.slice(0, end) })) } // prettier-ignore
      })
    const id = base.nodes[0]!.id
    const [there, here] = [without(base, 4), without(base, 9)]
    const open = merge(there, here, ['topology'], {}, null)
    expect(open.conflicts).toContainEqual({ id, name: 'body', trait: 'topology', elements: null })
    const faces = (side: 'there' | 'here'): number => {
      const choices = Object.fromEntries(open.conflicts.map(({ trait }) => [trait, side]))
      const { scene } = merge(there, here, ['topology'], { [id]: choices }, null)
      return scene!.meshes[scene!.nodes[0]!.mesh]!.faceOffsets.length
    }
    const whole = base.meshes[0]!.faceOffsets.length
    expect([faces('there'), faces('here')]).toEqual([whole - 4, whole - 9])
  })
})

test('what is told of parts is told as well where something has to be chosen first', () => {
  const master: Scene = raise({ ...base, nodes: base.nodes.slice(1) }, 2, 5)
  const there = raise(raise(base, 0, 1), 2, 9)
  const { scene, conflicts, findings } = merge(there, master, ['points'])
  expect([scene, conflicts.map(({ name }) => name)]).toEqual([null, [base.nodes[2]!.name]])
  expect(findings.map(({ code }) => code)).toContain('reconcile.gone-here')
})
test('a point more that no polygon has: the numbers are others, points are not put together by them', () => {
  const here = withMesh(base, 0, (mesh) => ({ ...mesh, points: Float64Array.of(...mesh.points, 0, 0, 0) }))
  const moved = raise(here, 0, 3, (point) => point < 5)
  const there = raise(base, 0, 1, (point) => point > 20)
  const { conflicts } = merge(there, moved, ['points'], {}, null)
  expect(conflicts).toEqual([{ id: base.nodes[0]!.id, name: 'body', trait: 'points', elements: null }])
})
test('polygons that came back in pieces are other polygons, be every piece known', () => {
  const { parts, scene } = merge(triangulateScene(base), base, ['topology'], {}, null)
  expect(parts[0]!.traits.topology).toBe('there')
  const faces = (own: Scene): number => own.meshes[own.nodes[0]!.mesh]!.faceOffsets.length
  expect(faces(scene!)).toBeGreaterThan(faces(base))
})
