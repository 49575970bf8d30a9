/**
 * Every step of the Bench on a master while a trip is out, and a sculpt or nothing home from it through real files: the
 * step's work stays, the sculpt comes onto it, and where both moved the same points it is asked.
 */
import { expect, test } from 'vitest'
import { fingerprintScene } from '../../src/core/compare/fingerprint.ts'
import { recogniseReturn } from '../../src/core/compare/recognise/recognise-return.ts'
import { TRAITS } from '../../src/core/compare/traits/registry.ts'
import { readPackage } from '../../src/core/formats/package/read-package.ts'
import { formatNamed, readBackOptions } from '../../src/core/formats/registry.ts'
import { buildStormLantern } from '../../src/core/practice/demo/storm-lantern.ts'
import { sculptFiles } from '../../src/core/practice/standins/sculptor.ts'
import { reconcileThreeWays } from '../../src/core/reconcile/three-ways/reconcile-three-ways.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { STEPS } from '../../src/core/steps/registry.ts'
import { StepRefusal } from '../../src/core/steps/step.ts'
import { runStep } from '../../src/core/steps/run-steps.ts'
import { IN_THE_LONG_RUN } from '../how-many.ts'

const lantern = buildStormLantern()
/** Its tank, chimney, hood, burner and handle; in the long run its rope and its guard of wire as well. */
const base = IN_THE_LONG_RUN
  ? lantern
  : { ...lantern, nodes: lantern.nodes.filter(({ name }) => !/rope|wire/.test(name)) }
const sent = formatNamed('obj').write(base, 'lantern.obj', { normals: false })
const assumed = readBackOptions(sent.space, {})
const homeFrom = (strength: number) =>
  recogniseReturn(base, readPackage(sculptFiles(sent.files, { strength }, assumed), assumed).scene)
const [untouched, sculpted] = [homeFrom(0), homeFrom(0.01)]

const changedBy = (before: Scene, after: Scene): string[] => {
  const [a, b] = [fingerprintScene(before), fingerprintScene(after)]
  return TRAITS.filter((trait) => a[trait] !== b[trait])
}
function prepared(step: string): Scene | null {
  try {
    return runStep(base, { step, params: {} }).scene
  } catch (error) {
    if (error instanceof StepRefusal) return null
    throw error
  }
}

test.each(STEPS.map(({ id }) => id))('%s', (step) => {
  const master = prepared(step)
  if (!master) return
  const come = ({ returned, matching }: typeof sculpted) =>
    reconcileThreeWays(base, returned, master, { take: ['points'] }, () => {}, matching)
  const nothing = come(untouched)
  expect([nothing.conflicts, nothing.taken]).toEqual([[], {}])
  expect(changedBy(master, nothing.scene!)).toEqual([])
  const both = come(sculpted)
  if (both.scene) expect(changedBy(master, both.scene)).toEqual(['points'])
  else for (const { trait } of both.conflicts) expect(trait).toBe('points')
})
