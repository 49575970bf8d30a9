/** Whatever a tool does to a file on its way, the master comes home whole: through real files of both formats. */
import { defaultsOf } from '../../src/core/base/options/option.ts'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { buildCourierHeron } from '../../src/core/practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../src/core/practice/demo/mooring-bollard.ts'
import { buildStormLantern } from '../../src/core/practice/demo/storm-lantern.ts'
import { moveToSpace, triangulateScene } from '../../src/core/formats/arrange/arrange-scene.ts'
import { FORMATS, readBackOptions } from '../../src/core/formats/registry.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { reconcile } from '../../src/core/reconcile/reconcile.ts'
import { pointCountOf } from '../../src/core/scene/mesh.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { splitCorners } from '../../src/core/practice/standins/engine.ts'
import { renumberMesh } from '../../src/core/practice/standins/sculptor.ts'
import { runStep } from '../../src/core/steps/run-steps.ts'
import { compareScenes } from '../../src/core/compare/compare-scenes.ts'
import { fingerprintScene } from '../../src/core/compare/fingerprint.ts'
import { TRAITS } from '../../src/core/compare/traits/registry.ts'
import { recogniseReturn } from '../../src/core/compare/recognise/recognise-return.ts'
import { howMany } from '../how-many.ts'

const MASTERS: readonly Scene[] = [buildStormLantern(), buildMooringBollard()]

interface Hop {
  readonly master: number
  readonly format: 'obj' | 'fbx'
  readonly text: boolean
  readonly renumberSeed: number | null
  readonly triangulates: boolean
  readonly welds: boolean
  readonly splits: boolean
  readonly strips: boolean
  readonly factor: number
  readonly lies: boolean
}
const anyHop: fc.Arbitrary<Hop> = fc.record({
  master: fc.nat(MASTERS.length - 1),
  format: fc.constantFrom('obj', 'fbx'),
  text: fc.boolean(),
  renumberSeed: fc.option(fc.integer({ min: 1, max: 999 })),
  triangulates: fc.boolean(),
  welds: fc.boolean(),
  splits: fc.boolean(),
  strips: fc.boolean(),
  factor: fc.constantFrom(1, 1, 100, 0.01),
  lies: fc.boolean(),
})

/** What a tool does to the polygons and says nothing of. */
function tooled(scene: Scene, hop: Hop): Scene {
  let made = hop.welds ? runStep(scene, { step: 'weld-by-distance', params: {} }).scene : scene
  if (hop.triangulates) made = triangulateScene(made)
  const change = (mesh: Scene['meshes'][number], at: number): Scene['meshes'][number] => {
    const split = hop.splits ? splitCorners(mesh) : mesh
    const bare = hop.strips ? { ...split, creases: null, smoothing: null, groups: null } : split
    return hop.renumberSeed === null ? bare : renumberMesh(bare, hop.renumberSeed + at)
  }
  made = { ...made, meshes: made.meshes.map(change) }
  if (hop.factor === 1 && !hop.lies) return made
  const moved = moveToSpace(made, {
    unitMeters: null,
    unitAs: 'points',
    upAxis: hop.lies ? 'z' : null,
    frontAxis: hop.lies ? '-y' : null,
    mirrored: null,
    axesAs: 'points',
    scale: hop.factor,
  })
  return { ...moved, space: made.space }
}

/** Out as a file, through the tool, and back as a file; what happened to the whole is undone. */
function travel(master: Scene, hop: Hop): Scene {
  const format = FORMATS.find((candidate) => candidate.id === hop.format)!
  const options = { ...defaultsOf(format.writeOptions), form: hop.text ? 'text' : 'binary' }
  const write = (scene: Scene) => format.write(scene, `x${format.endings[0]!}`, options)
  const out = write(master)
  const assumed = readBackOptions(out.space, options)
  const there = readPackage(out.files, assumed).scene
  const home = write(tooled(there, hop)).files
  return recogniseReturn(master, readPackage(home, assumed).scene, { undoWhole: true }).returned
}

function looseCount(scene: Scene, name: string): number {
  const mesh = scene.meshes[scene.nodes.find((node) => node.name === name)!.mesh]!
  return pointCountOf(mesh) - new Set(mesh.faceVertices).size
}

describe('a hop with any faults', () => {
  test('all parts and polygons are found again, and what the file carries has not changed', () => {
    fc.assert(
      fc.property(anyHop, (hop) => {
        const master = MASTERS[hop.master]!
        const { rows, whole } = compareScenes(master, travel(master, hop))
        expect(whole).toBeNull()
        expect(rows.map((row) => row.name)).toEqual(
          master.nodes.filter((node) => node.mesh >= 0).map((node) => node.name),
        )
        for (const { name, cells } of rows) {
          expect(['same', 'renumbered', 'polygons-cut', 'points-split', 'points-welded'], name).toContain(
            cells.topology!.note,
          )
          for (const trait of ['uvs', 'materials', 'names'] as const)
            expect(['same', 'within'], `${name} ${trait}`).toContain(cells[trait]!.state)
          // points that no polygon uses have no part in this
          const loose = looseCount(master, name)
          expect(cells.points!.changedCount, name).toBeLessThanOrEqual(loose)
          if (loose === 0) expect(['same', 'within'], name).toContain(cells.points!.state)
        }
      }),
      { numRuns: howMany(4, 100), seed: 11 },
    )
  })
  test('with nothing taken the master is the master, to the last bit', () => {
    fc.assert(
      fc.property(anyHop, (hop) => {
        const master = MASTERS[hop.master]!
        const { scene } = reconcile(master, travel(master, hop), { take: [] })
        expect(fingerprintScene(scene)).toEqual(fingerprintScene(master))
      }),
      { numRuns: howMany(2, 50), seed: 12 },
    )
  })
  test('with new UVs taken, the UVs are the new ones and all else is the master’s', () => {
    fc.assert(
      fc.property(anyHop, (hop) => {
        const master = MASTERS[hop.master]!
        const home = travel(master, hop)
        const halved: Scene = {
          ...home,
          meshes: home.meshes.map((mesh) => ({
            ...mesh,
            uvSets: mesh.uvSets.map((set) => ({ ...set, values: set.values.map((value) => value / 2) })),
          })),
        }
        const { scene } = reconcile(master, halved, { take: ['uvs'] })
        const [before, after] = [fingerprintScene(master), fingerprintScene(scene)]
        expect(TRAITS.filter((trait) => before[trait] !== after[trait])).toEqual(['uvs'])
        scene.meshes.forEach((mesh, at) => {
          const [set] = mesh.uvSets
          const [own] = master.meshes[at]!.uvSets
          own!.indices.forEach((uv, corner) => {
            for (const axis of [0, 1]) {
              const found = set!.values[2 * set!.indices[corner]! + axis]!
              if (!(Math.abs(found - own!.values[2 * uv + axis]! / 2) < 1e-9))
                expect.fail(`${mesh.name}: corner ${corner} lies elsewhere`)
            }
          })
        })
      }),
      { numRuns: howMany(2, 50), seed: 13 },
    )
  })
})

describe('out by a format that keeps 32 bits, and home by one that keeps all', () => {
  const heron = buildCourierHeron()
  const through = (scene: Scene, id: string): Scene => {
    const format = FORMATS.find((candidate) => candidate.id === id)!
    const options = defaultsOf(format.writeOptions)
    const { files, space } = format.write(scene, `x${format.endings[0]!}`, options)
    return readPackage(files, readBackOptions(space, options)).scene
  }
  test.each([
    ['gltf', 'obj'],
    ['gltf', 'fbx'],
    ['alembic', 'collada'],
    ['stl', 'ply'],
  ])('%s, then %s: no point has moved, and taking points takes none', (out, home) => {
    const returned = recogniseReturn(heron, through(through(heron, out), home), { undoWhole: true }).returned
    const { rows } = compareScenes(heron, returned)
    expect(rows).toHaveLength(12)
    for (const { name, cells } of rows) expect(['same', 'within'], name).toContain(cells.points!.state)
    expect(reconcile(heron, returned, { take: ['points'] }).taken.points).toBeUndefined()
  })
})
