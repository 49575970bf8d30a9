import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, materialOf, sceneOf, withNodes } from '../../../../tests/solids.ts'
import { buildStormLantern } from '../demo/storm-lantern.ts'
import { writeFbx } from '../../formats/fbx/write-fbx.ts'
import { readPackage } from '../../formats/package/read-package.ts'
import { writePng } from '../../image/codecs/write-png.ts'
import { KelboError } from '../../base/messages/collector.ts'
import { reconcile } from '../../reconcile/reconcile.ts'
import type { Scene } from '../../scene/scene.ts'
import { recogniseReturn } from '../../compare/recognise/recognise-return.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { runStep } from '../../steps/run-steps.ts'
import { engineLog, splitCorners } from './engine.ts'
import { runStandIn, STAND_INS, standInOf } from './registry.ts'

const lantern = runStep(buildStormLantern(), { step: 'convert-smoothing', params: { to: 'edges' } }).scene
const practise = (id: string, scene: Scene, options: Record<string, unknown> = {}) => {
  const { files } = writeFbx(scene, 'lantern.fbx')
  const result = runStandIn(standInOf(id)!, files, options)
  return { ...result, scene: readPackage(result.files).scene }
}
const quiet = { uvSetName: '', dropsCreases: false, renames: false }

describe('the modeller', () => {
  test('with no fault ticked it gives back what it got', () => {
    const { scene, log } = practise('modeller', lantern, quiet)
    const { rows, whole } = compareScenes(lantern, scene)
    expect([log, whole]).toEqual([[], null])
    for (const row of rows)
      for (const [trait, cell] of Object.entries(row.cells))
        if (trait !== 'surfaces') expect([row.name, trait, cell!.state]).toEqual([row.name, trait, 'same'])
  })
  test.each([
    ['hundredfold', 100],
    ['hundredth', 0.01],
  ])('%s: the ledger says so once, and it is undone', (size, factor) => {
    const { scene, log } = practise('modeller', lantern, { ...quiet, size })
    expect(log).toEqual([`Everything was multiplied by ${factor}.`])
    const { whole, scene: cell } = compareScenes(lantern, scene)
    expect([whole, cell.note]).toMatchObject([
      { factor, turn: null, mirror: null, move: null, by: 'points' },
      'size-changed',
    ])
    const again = recogniseReturn(lantern, scene, { undoWhole: true }).returned
    const { rows, whole: none } = compareScenes(lantern, again)
    expect(none).toBeNull()
    for (const row of rows) expect(row.cells.points!.state).toMatch(/same|within/)
  })
  test('lying: it is said, and undone', () => {
    const { scene } = practise('modeller', lantern, { ...quiet, lies: true })
    expect(compareScenes(lantern, scene).whole!.turn!.text).toMatch(/^lying, with [XYZ] (up|down)$/)
    const again = recogniseReturn(lantern, scene, { undoWhole: true }).returned
    const { rows, whole } = compareScenes(lantern, again)
    expect(whole).toBeNull()
    for (const row of rows) expect(row.cells.points!.state).toMatch(/same|within/)
  })
  test('its other faults each show in their trait, and all are restored from the master', () => {
    const { scene } = practise('modeller', lantern, {
      ...quiet,
      uvSetName: 'channel_1',
      dropsCreases: true,
      locksNormals: true,
      triangulates: true,
    })
    const tank = compareScenes(lantern, scene).rows.find((row) => row.name === 'tank')!.cells
    expect([tank.topology!.note, tank.creases!.state, tank.smoothing!.state, tank.uvs!.note]).toEqual([
      'polygons-cut',
      'lost',
      'lost',
      'uv-sets-gained',
    ])
    expect(scene.meshes[0]!.uvSets.map((set) => set.name)).toContain('channel_1')
    const { scene: whole } = reconcile(lantern, scene, { take: [] })
    expect(fingerprintScene(whole)).toEqual(fingerprintScene(lantern))
  })
  test('parts of one name get a number behind', () => {
    const twins = withNodes(sceneOf([cubeOf(), gridOf(1, 1)]), () => ({ name: 'wing' }))
    const { scene } = practise('modeller', twins, { ...quiet, renames: true })
    expect(scene.nodes.map((node) => node.name)).toEqual(['wing', 'wing_1'])
  })
})

describe('the engine', () => {
  test('a cube with hard edges has four points a side, and merges into one part', () => {
    const cube = cubeOf({ smoothing: { kind: 'groups', faceGroups: Int32Array.of(1, 2, 3, 4, 5, 6) } })
    expect(splitCorners(cube).points.length / 3).toBe(24)
    const { scene } = practise('engine', sceneOf([cube, gridOf(2, 2)]), { merges: true })
    expect(scene.nodes).toHaveLength(1)
    expect(scene.meshes[0]!.faceOffsets.length - 1).toBe(12 + 8)
  })
  test('its log: degenerate tangents, missing maps, wrong colour spaces, many materials', () => {
    const map = (slot: 'roughness' | 'baseColor', file: string) => ({
      property: slot,
      slot,
      file,
      options: [],
    })
    const pixel = { width: 1, height: 1, channels: 1, pixels: Uint8Array.of(9) } as const
    const flat = { ...cubeOf(), uvSets: [{ ...cubeOf().uvSets[0]!, values: new Float64Array(cubeOf().uvSets[0]!.values.length) }] } // prettier-ignore
    const scene: Scene = {
      ...sceneOf([{ ...flat, faceMaterials: Int32Array.of(0, 1, 2, 0, 1, 2) }]),
      materials: [
        materialOf('tin', { maps: [map('roughness', 'rough.png'), map('baseColor', 'gone.png')] }),
        materialOf('zinc', { maps: [map('baseColor', 'plain.png')] }),
        materialOf('lead'),
      ],
      images: [
        { file: 'rough.png', entry: null, bytes: writePng({ ...pixel, colorSpace: 'sRGB' }) },
        { file: 'plain.png', entry: null, bytes: writePng({ ...pixel, colorSpace: 'linear' }) },
        { file: 'gone.png', entry: null, bytes: null },
      ],
    }
    const triangles = runStep(scene, { step: 'triangulate', params: {} }).scene
    expect(engineLog(triangles, 2)).toEqual([
      'warning: part_1: degenerate tangents at 12 triangles, the UVs have no area there',
      'warning: 3 materials, each is drawn apart; 2 are meant for a prop',
      'warning: tin: “rough.png” holds numbers (roughness) and says it is sRGB',
      'error: tin: the map “gone.png” is missing',
      'warning: zinc: “plain.png” holds colours (base colour) and says it is linear',
    ])
    expect(engineLog(runStep(sceneOf([cubeOf()]), { step: 'triangulate', params: {} }).scene, 2)).toEqual([])
  })
  test('what it cut and split still compares: points by place, UVs by corner', () => {
    const { scene } = practise('engine', lantern, { splits: false })
    for (const row of compareScenes(lantern, scene).rows) {
      expect(['polygons-cut', 'same']).toContain(row.cells.topology!.note)
      expect(row.cells.uvs!.state).toBe('same')
    }
  })
})

describe('any stand-in', () => {
  test('settings out of their bounds are brought into them, others are their default', () => {
    const still = practise('engine', sceneOf([cubeOf()]), { materialLimit: -5, splits: 'perhaps', other: 1 })
    expect(still.files).toHaveLength(1)
  })
  test('a format that it can’t read, and no model at all, are said', () => {
    const { files } = writeFbx(sceneOf([cubeOf()]), 'x.fbx')
    const refused = (run: () => unknown): string => {
      try {
        run()
      } catch (error) {
        if (error instanceof KelboError) return error.code
      }
      return 'nothing'
    }
    expect(refused(() => runStandIn(standInOf('sculptor')!, files))).toBe('standin.format')
    expect(refused(() => runStandIn(standInOf('engine')!, []))).toBe('package.no-model')
    expect(standInOf('nobody')).toBeNull()
    expect(STAND_INS.map((standIn) => standIn.id)).toEqual([
      'sculptor',
      'modeller',
      'painter',
      'pattern-maker',
      'engine',
      'renderer',
      'rough-hand',
      'tablet',
      'assembler',
    ])
  })
})
