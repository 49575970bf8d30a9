/** A recipe: a saved list of steps with their parameters. */
import type { OptionValues } from '../base/options/option.ts'

/** Elements of one part that a step is limited to; an edge is two points. */
export interface StepElements {
  /** The part's node, by its id. */
  readonly node: string
  readonly element: 'points' | 'edges' | 'faces' | 'corners'
  readonly elements: readonly number[]
}

export interface RecipeStep {
  /** The step's id: its file's name. */
  readonly step: string
  /** What is left out takes its default. */
  readonly params: OptionValues
  /** Parts it is limited to, by path, name or pattern (`*` for any letters), for models of any kind; absent: all parts. */
  readonly parts?: readonly string[]
  /** Parts of one model that it is limited to, by the ids of their nodes; these don't travel with a saved recipe. */
  readonly nodes?: readonly string[]
  /** Elements it is limited to; these fit one version only and don't travel with a saved recipe. */
  readonly only?: readonly StepElements[]
}

export interface Recipe {
  readonly name: string
  readonly steps: readonly RecipeStep[]
}

/**
 * The recipe for models of any kind. Steps on single elements are left out; parts that are known by their ids go by
 * their paths from then on, and a step on a part whose path isn't known is left out, as it would run on all of them.
 * @param pathOf path of a node by its id when the step at a place ran; null where it is not known.
 */
export const portableRecipe = (
  recipe: Recipe,
  pathOf: (node: string, step: number) => string | null = () => null,
): Recipe => ({
  name: recipe.name,
  steps: recipe.steps.flatMap(({ step, params, parts, nodes, only }, at) => {
    if (only) return []
    const paths = (nodes ?? []).map((node) => pathOf(node, at))
    if (paths.includes(null)) return []
    const limits = [...new Set([...(parts ?? []), ...(paths as string[])])]
    return [{ step, params, ...(parts || nodes ? { parts: limits } : {}) }]
  }),
})
