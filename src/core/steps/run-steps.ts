/** Runs recipes. */
import { createMeshFacts, type MeshFacts } from '../mesh/relations/mesh-facts.ts'
import type { Mesh } from '../scene/mesh.ts'
import { completeIds } from '../scene/ids.ts'
import type { Scene } from '../scene/scene.ts'
import { dropStaleLayers } from '../mesh/rebuilding/stale-layers.ts'
import type { Recipe, RecipeStep } from './recipe.ts'
import { STEPS, stepOf } from './registry.ts'
import { stepContext, StepRefusal, type StepOutcome } from './step.ts'

export interface StepRecord {
  readonly step: RecipeStep
  readonly changedCount: number
  readonly of: string
  readonly notes: readonly string[]
  readonly warning: string | null
}

/** @throws StepRefusal where the step is not known, or can't be done on this scene. */
export function runStep(
  scene: Scene,
  step: RecipeStep,
  factsOf: (mesh: Mesh) => MeshFacts = createMeshFacts,
): StepOutcome {
  const descriptor = stepOf(step.step)
  if (!descriptor)
    throw new StepRefusal(
      `There is no step “${step.step}”; there are ${STEPS.map((known) => known.id).join(', ')}.`,
    )
  const context = stepContext(scene, descriptor, step, factsOf)
  const done = descriptor.run(context)
  return {
    ...done,
    notes: [...context.notes, ...done.notes],
    scene: completeIds(dropStaleLayers(scene, done.scene)),
  }
}

/** @throws StepRefusal with the number of the step that can't be done; nothing is half done then. */
export function runRecipe(
  scene: Scene,
  recipe: Recipe,
  progress: (share: number, title: string) => void = () => {},
): { scene: Scene; records: StepRecord[] } {
  let current = scene
  const records: StepRecord[] = []
  recipe.steps.forEach((step, index) => {
    progress(index / recipe.steps.length, stepOf(step.step)?.title ?? step.step)
    let done: StepOutcome
    try {
      done = runStep(current, step)
    } catch (error) {
      if (!(error instanceof StepRefusal)) throw error
      throw new StepRefusal(`Step ${index + 1}, “${stepOf(step.step)?.title ?? step.step}”: ${error.message}`)
    }
    current = done.scene
    records.push({
      step,
      changedCount: done.changedCount,
      of: done.of,
      notes: done.notes,
      warning: done.warning,
    })
  })
  return { scene: current, records }
}

/**
 * A recipe out of the JSON of a recipe file.
 * @throws StepRefusal where it is not `{ "name": "...", "steps": [ { "step": "...", "params": { } } ] }`.
 */
export function parseRecipe(document: unknown): Recipe {
  const fail = (what: string): never => {
    throw new StepRefusal(`This is not a recipe: ${what}.`)
  }
  if (document === null || typeof document !== 'object') return fail('it is no object')
  const { name, steps } = document as { name?: unknown; steps?: unknown }
  if (!Array.isArray(steps)) return fail('“steps” is missing')
  return {
    name: typeof name === 'string' ? name : 'recipe',
    steps: steps.map((entry: unknown, index): RecipeStep => {
      if (entry === null || typeof entry !== 'object') return fail(`step ${index + 1} is no object`)
      const { step, params, parts } = entry as { step?: unknown; params?: unknown; parts?: unknown }
      if (typeof step !== 'string') return fail(`step ${index + 1} has no “step”`)
      if (params !== undefined && (params === null || typeof params !== 'object' || Array.isArray(params)))
        return fail(`“params” of step ${index + 1} is no object`)
      if (parts !== undefined && !(Array.isArray(parts) && parts.every((part) => typeof part === 'string')))
        return fail(`“parts” of step ${index + 1} is no list of paths`)
      return {
        step,
        params: (params ?? {}) as RecipeStep['params'],
        ...(parts ? { parts: parts as string[] } : {}),
      }
    }),
  }
}
