/** The painter and the pattern maker, each through real files: what they do is found, and the master takes what it wants of it. */
import { describe, expect, test } from 'vitest'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { recogniseReturn } from '../../compare/recognise/recognise-return.ts'
import { TRAITS } from '../../compare/traits/registry.ts'
import { formatNamed, readBackOptions } from '../../formats/registry.ts'
import { readPackage } from '../../formats/package/read-package.ts'
import { findIslands } from '../../uv/find-islands.ts'
import { reconcile } from '../../reconcile/reconcile.ts'
import type { Scene } from '../../scene/scene.ts'
import { buildCourierHeron } from '../demo/courier-heron.ts'
import { buildStormLantern } from '../demo/storm-lantern.ts'
import { runStandIn, standInOf } from './registry.ts'

function travel(master: Scene, format: 'obj' | 'fbx', standIn: string, options: object) {
  const written = formatNamed(format).write(master, `model.${format}`, {})
  const assumed = readBackOptions(written.space, {})
  const { files, log } = runStandIn(standInOf(standIn)!, written.files, { ...options }, assumed)
  const { scene } = readPackage(files, assumed)
  const found = recogniseReturn(master, scene, { undoWhole: true })
  const ledger = compareScenes(master, found.returned, () => {}, found.matching)
  return { ...found, ledger, log, scene }
}

describe.each(['obj', 'fbx'] as const)('the painter, by %s', (format) => {
  const lantern = buildStormLantern()
  test('new UVs, surfaces and names of materials; taken, all else is the master’s', () => {
    const { ledger, returned, matching, log } = travel(lantern, format, 'painter', { triangulates: true })
    expect(log.join(' ')).toMatch(/maps were painted\. The UVs were laid anew/)
    for (const { name, cells } of ledger.rows) {
      expect([name, cells.points!.state, cells.topology!.note]).toEqual([name, expect.stringMatching(/same|within/), expect.stringMatching(/polygons-cut|same|renumbered|points-split/)]) // prettier-ignore
      expect([name, cells.uvs!.state]).toEqual([name, 'changed'])
    }
    const { scene } = reconcile(lantern, returned, { take: ['uvs', 'surfaces'] }, () => {}, matching)
    const [before, after] = [fingerprintScene(lantern), fingerprintScene(scene)]
    expect(TRAITS.filter((trait) => before[trait] !== after[trait])).toEqual(['uvs', 'surfaces'])
  })
  test('with nothing ticked nothing changes but what the format can’t say', () => {
    const quiet = { unwraps: false, renames: false, paints: false, dropsSmoothing: false }
    const { ledger } = travel(lantern, format, 'painter', quiet)
    for (const { cells } of ledger.rows)
      for (const trait of ['points', 'uvs', 'materials', 'topology'] as const)
        expect(cells[trait]!.state).toMatch(/same|within/)
  })
})

describe.each([false, true])('the pattern maker; panels of a part keep its name: %s', (joined) => {
  test('the parts are put together again from their panels, and nothing has moved', () => {
    const heron = buildCourierHeron()
    const { ledger, findings, log, scene, returned, matching } = travel(heron, 'obj', 'pattern-maker', {
      joined,
    })
    const panels = scene.nodes.filter(({ mesh }) => mesh >= 0).length
    if (!joined) expect(log[0]).toContain(` ${panels} panels,`)
    const islands = heron.meshes.reduce(
      (sum, mesh) => sum + findIslands(mesh, mesh.uvSets[0]!).islandCount,
      0,
    )
    if (!joined) expect(panels).toBe(islands)
    if (!joined) expect(findings.some(({ code }) => code === 'return.part-cut')).toBe(true)
    for (const { name, cells } of ledger.rows) {
      expect([name, cells.topology!.note]).toEqual([name, expect.stringMatching(/polygons-cut|points-split|same|renumbered/)]) // prettier-ignore
      expect([name, cells.points!.state]).toEqual([name, expect.stringMatching(/same|within/)])
      expect([name, cells.uvs!.state]).toEqual([name, expect.stringMatching(/same|within/)])
    }
    const { scene: whole } = reconcile(heron, returned, { take: [] }, () => {}, matching)
    expect(fingerprintScene(whole)).toEqual(fingerprintScene(heron))
  })
})
