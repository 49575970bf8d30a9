/** A recipe: a saved list of steps with their parameters. */

export type StepParameter = string | number | boolean | null

/** Elements of one part that a step is limited to; an edge is two points. */
export interface StepElements {
  readonly part: string
  readonly element: 'points' | 'edges' | 'faces' | 'corners'
  readonly elements: readonly number[]
}

export interface RecipeStep {
  /** The step's id: its file's name. */
  readonly step: string
  /** What is left out takes its default. */
  readonly params: Readonly<Record<string, StepParameter>>
  /** Paths of the parts it is limited to; absent: all parts. */
  readonly parts?: readonly string[]
  /** Elements it is limited to; these fit one version only and don't travel with a saved recipe. */
  readonly only?: readonly StepElements[]
}

export interface Recipe {
  readonly name: string
  readonly steps: readonly RecipeStep[]
}

/** The recipe without what fits only the model it was made on. */
export const portableRecipe = (recipe: Recipe): Recipe => ({
  name: recipe.name,
  steps: recipe.steps.filter((step) => !step.only).map(({ step, params }) => ({ step, params })),
})
