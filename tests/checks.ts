/**
 * How a check is tried: for each of its problems a model that has it and a near miss that has not; for each fix, the
 * problem is gone after it, and every trait that the step does not name is as it was.
 */
import { describe, expect, test } from 'vitest'
import type { Scene } from '../src/core/scene/scene.ts'
import { stepOf } from '../src/core/steps/registry.ts'
import { runStep } from '../src/core/steps/run-steps.ts'
import { fingerprintScene } from '../src/core/compare/fingerprint.ts'
import { compareScenes } from '../src/core/compare/compare-scenes.ts'
import { TRAITS, type Trait } from '../src/core/compare/traits/registry.ts'
import { checkOf } from '../src/core/checks/registry.ts'
import { findingText, runChecks } from '../src/core/checks/run-checks.ts'
import type { CheckSettings } from '../src/core/checks/settings.ts'

export interface Trial {
  /** A model with the problem, how many of it, and the settings it is held against. */
  readonly bad: Scene
  readonly count: number
  /** A model as close to it as may be that does not have it. */
  readonly near: Scene
  readonly settings?: Partial<CheckSettings>
  /** Settings of the near miss, where it differs in these. */
  readonly nearSettings?: Partial<CheckSettings>
}

const found = (scene: Scene, check: string, problem: string, settings: Partial<CheckSettings> = {}) =>
  runChecks(scene, { settings, checks: [check] }).filter((finding) => finding.problem === problem)

/**
 * Traits that differ: by fingerprint, to the last bit; where polygons may come and go by the ledger, which
 * compares what stayed.
 */
function changedTraits(before: Scene, after: Scene, named: readonly Trait[]): Trait[] {
  const a = fingerprintScene(before)
  const b = fingerprintScene(after)
  const changed = TRAITS.filter((trait) => a[trait] !== b[trait])
  if (!named.includes('topology')) return changed
  // compared as they stand in the world, so that baking a transform is seen to move nothing
  const ledger = compareScenes(before, { ...after, format: 'obj' })
  const rows = ledger.rows.filter((row) => row.match.by !== 'none')
  const differs = (state: string): boolean => ['changed', 'lost', 'gained'].includes(state)
  return changed.filter((trait) =>
    trait === 'scene'
      ? differs(ledger.scene.state)
      : rows.some((row) => differs(row.cells[trait]?.state ?? 'same')),
  )
}

/**
 * @param trials by the check's problems.
 * @param apart problems that come of a limit on work, which are tried elsewhere.
 */
export function tryProblems(
  check: string,
  trials: Readonly<Record<string, Trial>>,
  apart: readonly string[] = [],
): void {
  test('every problem is tried', () => {
    expect([...Object.keys(trials), ...apart].sort()).toEqual(Object.keys(checkOf(check)!.problems).sort())
  })
  describe.each(Object.keys(trials))('%s', (problem) => {
    const trial = trials[problem]!

    const settings = trial.settings ?? {}
    test('is found where it is', () => {
      const findings = found(trial.bad, check, problem, settings)
      expect(findings.length).toBeGreaterThan(0)
      expect(findings[0]!.count).toBe(trial.count)
      expect(findingText(findings[0]!)).toMatch(/^[^{}[\]|?]+\.$/)
      // a fault in the mesh comes with the very elements
      if (findings[0]!.places) expect(findings[0]!.places.elements.length).toBeGreaterThan(0)
    })
    test('is not found in the near miss', () => {
      expect(found(trial.near, check, problem, { ...settings, ...trial.nearSettings })).toEqual([])
    })
    const fix = found(trial.bad, check, problem, settings)[0]?.fix
    if (fix)
      test(`is mended by ${fix.step}, which changes nothing it does not name`, () => {
        const step = stepOf(fix.step)!
        const mended = runStep(trial.bad, fix)
        expect(mended.changedCount).toBeGreaterThan(0)
        expect(found(mended.scene, check, problem, settings)).toEqual([])
        expect(
          changedTraits(trial.bad, mended.scene, step.changes).filter(
            (trait) => !step.changes.includes(trait),
          ),
        ).toEqual([])
      })
  })
}
