/** Panels that come home from sewing: in the same triangles or in others, moved, scaled in the UVs, or not sewn at all. */
import { describe, expect, test } from 'vitest'
import { buildSignalKite } from '../../practice/demo/signal-kite.ts'
import { runStandIn, standInOf } from '../../practice/standins/registry.ts'
import { formatNamed, readBackOptions } from '../../formats/registry.ts'
import { readPackage } from '../../formats/package/read-package.ts'
import { reconcile } from '../../reconcile/reconcile.ts'
import type { Scene } from '../../scene/scene.ts'
import { runStep } from '../../steps/run-steps.ts'
import { compareScenes } from '../compare-scenes.ts'
import { fingerprintScene } from '../fingerprint.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'
import { TRAITS } from '../traits/registry.ts'
import { createLocator } from './locate-uv.ts'
import { islandsInSet } from '../../uv/islands/laid-island.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { gridOf } from '../../../../tests/solids.ts'
import { expectAsBefore, tellRecognised } from '../../../../tests/core/approved/tell-returns.ts'

const kite = runStep(buildSignalKite(), { step: 'make-panels', params: {} }).scene

function fromTheMaker(options: Record<string, unknown>): Scene {
  const written = formatNamed('obj').write(kite, 'kite.obj', { unitMeters: 0.001 })
  const assumed = readBackOptions(written.space, {})
  const { files } = runStandIn(standInOf('pattern-maker')!, written.files, options, assumed)
  return readPackage(files, assumed).scene
}
function home(came: Scene) {
  const found = recogniseReturn(kite, came, { undoWhole: true })
  const ledger = compareScenes(kite, found.returned, () => {}, found.matching)
  expectAsBefore(tellRecognised(kite, found))
  const take = (traits: readonly string[]) =>
    reconcile(kite, found.returned, { take: traits as never }, () => {}, found.matching).scene
  return { ...found, ledger, take }
}
const SEWN = ['sail', 'ring top', 'ring tail', 'line']

describe.each([false, true])('in triangles of its own; panels keep the part’s name: %s', (joined) => {
  test('nothing has moved: every point is found where it was, and no claim goes further', () => {
    const { ledger, findings, take } = home(fromTheMaker({ joined, anew: true }))
    expect(findings.map(({ code }) => code)).toEqual(['return.panels'])
    for (const { name, cells } of ledger.rows) {
      expect([name, cells.points!.state]).toEqual([name, expect.stringMatching(/same|within/)])
      if (SEWN.includes(name)) expect([name, cells.topology!.note]).toEqual([name, 'panels-anew'])
      // each polygon is of what the triangle under it is of
      if (SEWN.includes(name)) expect([name, cells.materials!.state]).toEqual([name, 'same'])
      // groups and smoothing did not come back
      for (const trait of ['groups', 'smoothing'] as const)
        expect([name, trait, cells[trait]!.state]).toEqual([
          name,
          trait,
          expect.not.stringMatching(/same|within/),
        ])
    }
    expect(ledger.rows.map(({ name }) => name).sort()).toEqual(kite.meshes.map(({ name }) => name).sort())
    expect(fingerprintScene(take([]))).toEqual(fingerprintScene(kite))
  })
  test('blown by the wind: one mesh of quads with its groups, moved as the cloth was', () => {
    const came = fromTheMaker({ joined, anew: true, wind: 50 })
    const { ledger, take } = home(came)
    expect(ledger.rows.find(({ name }) => name === 'sail')!.cells.points!.state).toBe('changed')
    const whole = take(['points'])
    const [before, after] = [fingerprintScene(kite), fingerprintScene(whole)]
    expect(TRAITS.filter((trait) => before[trait] !== after[trait])).toEqual(['points'])
    // the stand-in's own wind, at the very points that were in the panels, to a tenth of a millimetre
    const truth = home(fromTheMaker({ joined: true, wind: 50 })).take(['points'])
    whole.meshes.forEach((mesh, at) => {
      let most = 0
      mesh.points.forEach(
        (value, k) => (most = Math.max(most, Math.abs(value - truth.meshes[at]!.points[k]!))),
      )
      expect([mesh.name, most]).toEqual([mesh.name, expect.closeTo(0, 2)])
    })
  })
})

test('UVs in another measure and another place', () => {
  const came = fromTheMaker({ anew: true, wind: 30 })
  const moved: Scene = {
    ...came,
    meshes: came.meshes.map((mesh) => ({
      ...mesh,
      uvSets: mesh.uvSets.map((set) => ({
        ...set,
        values: set.values.map((value, at) => 1000 * value + (at % 2 ? 40 : -7)),
      })),
    })),
  }
  const { ledger, findings, take } = home(moved)
  expect(findings.map(({ code }) => code)).toEqual(['return.panels'])
  expect(ledger.rows.find(({ name }) => name === 'sail')!.cells.topology!.note).toBe('panels-anew')
  expect(take(['points']).meshes[0]!.faceOffsets).toEqual(kite.meshes[0]!.faceOffsets)
})

test('panels that lie apart are not taken for a sewn part', () => {
  const came = fromTheMaker({ anew: true })
  const apart: Scene = {
    ...came,
    meshes: came.meshes.map((mesh, at) => ({
      ...mesh,
      points: mesh.points.map((value, k) => (k % 3 === 0 ? value + 2000 * at : value)),
    })),
  }
  const { ledger } = home(apart)
  for (const { name, cells } of ledger.rows)
    if (SEWN.includes(name)) expect([name, cells.topology?.note]).not.toEqual([name, 'panels-anew'])
})

test('a master without a layout of panels is left to what else knows it', () => {
  const plain = buildSignalKite()
  const came = fromTheMaker({ anew: true })
  expect(recogniseReturn(plain, came).findings.map(({ code }) => code)).not.toContain('return.panels')
})

test('places of UVs are found inside, and the nearest outside', () => {
  const grid = gridOf(5, 7)
  const [island] = islandsInSet(createMeshFacts(grid), grid.uvSets[0]!)
  const locate = createLocator(island!)
  const at = (found: ReturnType<typeof locate>): [number, number] =>
    [0, 1].map((axis) =>
      found.shares.reduce(
        (sum, share, k) =>
          sum + share * island!.flat[2 * island!.net.triangles[3 * found.triangle + k]! + axis]!,
        0,
      ),
    ) as [number, number]
  const us = Array.from(island!.flat).filter((_, k) => k % 2 === 0)
  const vs = Array.from(island!.flat).filter((_, k) => k % 2)
  const [u0, u1, v0, v1] = [Math.min(...us), Math.max(...us), Math.min(...vs), Math.max(...vs)]
  for (let k = 0; k <= 20; k++) {
    const [u, v] = [u0 + ((u1 - u0) * k) / 20, v0 + ((v1 - v0) * ((7 * k) % 21)) / 20]
    const found = locate(u, v)
    expect(found.distance).toBeLessThan(1e-9)
    expect(at(found)[0]).toBeCloseTo(u, 9)
    expect(at(found)[1]).toBeCloseTo(v, 9)
  }
  const far = locate(u1 + 3, v0)
  expect(far.distance).toBeCloseTo(3, 9)
  expect(at(far)[0]).toBeCloseTo(u1, 9)
})
