/**
 * A step: one operation on a scene, one file each. It gives a new scene that shares every array it did not
 * touch, says how much it changed and where, and never changes anything in place.
 */
import { createMeshFacts, type MeshFacts } from '../mesh/relations/mesh-facts.ts'
import type { Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { nodePaths } from '../scene/world.ts'
import type { Places, Trait } from '../compare/traits/trait.ts'
import type { RecipeStep, StepParameter } from './recipe.ts'

export type StepArea = 'clean' | 'polygons' | 'shading' | 'uvs' | 'parts' | 'scene' | 'materials'

/** A parameter with its default and bounds. Lengths are in the file's unit, angles in degrees. */
export type ParameterDescriptor = {
  readonly name: string
  readonly title: string
  readonly unit: string | null
} & (
  | {
      readonly type: 'number'
      readonly default: number | null
      readonly min: number
      readonly max: number
      /** Only whole numbers. */
      readonly whole?: boolean
    }
  | { readonly type: 'choice'; readonly default: string; readonly choices: readonly string[] }
  | { readonly type: 'boolean'; readonly default: boolean }
  | { readonly type: 'text'; readonly default: string | null; readonly most: number }
)

/** Where a step changes something, in the numbering before it. */
export interface StepPlaces {
  readonly node: number
  readonly element: Places['element']
  readonly elements: Uint32Array
}

export interface StepOutcome {
  readonly scene: Scene
  /** How many elements the step changed; 0 where it found nothing to do. */
  readonly changedCount: number
  /** What is counted: points, polygons, parts. */
  readonly of: string
  readonly places: readonly StepPlaces[]
  /** Sentences for the artist about what was or could not be done. */
  readonly notes: readonly string[]
  /** Something the artist should think twice about before applying. */
  readonly warning: string | null
}

export interface StepContext {
  readonly scene: Scene
  /** Nodes with a mesh that the step may change. */
  readonly nodes: readonly number[]
  /** Elements it is limited to, by node; absent: no limit. */
  readonly only: ReadonlyMap<
    number,
    { readonly element: Places['element']; readonly elements: Uint32Array }
  > | null
  readonly factsOf: (mesh: Mesh) => MeshFacts
  readonly number: (name: string) => number
  readonly numberOrNull: (name: string) => number | null
  readonly text: (name: string) => string
  readonly flag: (name: string) => boolean
}

export interface StepDescriptor {
  /** The file's name. */
  readonly id: string
  readonly area: StepArea
  readonly title: string
  readonly description: string
  /** Traits that it changes by intent; all others stay as they are on what it does not touch. */
  readonly changes: readonly Trait[]
  readonly parameters: readonly ParameterDescriptor[]
  readonly run: (context: StepContext) => StepOutcome
}

export const outcome = (
  scene: Scene,
  changedCount: number,
  of: string,
  more: Partial<Pick<StepOutcome, 'places' | 'notes' | 'warning'>> = {},
): StepOutcome => ({ scene, changedCount, of, places: [], notes: [], warning: null, ...more })

/** What a step did to one mesh. */
export interface MeshChange {
  readonly mesh: Mesh
  readonly changedCount: number
  readonly element?: Places['element']
  readonly elements?: ArrayLike<number>
  readonly notes?: readonly string[]
  readonly warning?: string | null
}

/**
 * Runs an edit over the meshes of the chosen parts, each mesh once however many nodes show it.
 * @param edit gives null where there is nothing to do.
 */
export function changeMeshes(
  context: StepContext,
  of: string,
  edit: (mesh: Mesh, facts: MeshFacts, node: number) => MeshChange | null,
): StepOutcome {
  const meshes = [...context.scene.meshes]
  const places: StepPlaces[] = []
  const notes: string[] = []
  let warning: string | null = null
  let changedCount = 0
  const done = new Set<number>()
  for (const node of context.nodes) {
    const index = context.scene.nodes[node]!.mesh
    if (done.has(index)) continue
    done.add(index)
    const mesh = meshes[index]!
    const change = edit(mesh, context.factsOf(mesh), node)
    if (!change) continue
    notes.push(...(change.notes ?? []))
    warning ??= change.warning ?? null
    if (change.changedCount === 0) continue
    meshes[index] = change.mesh
    changedCount += change.changedCount
    if (change.element && change.elements)
      places.push({ node, element: change.element, elements: Uint32Array.from(change.elements) })
  }
  const scene = changedCount > 0 ? { ...context.scene, meshes } : context.scene
  return outcome(scene, changedCount, of, { places, notes: [...new Set(notes)], warning })
}

/** Flags of the faces that a step is limited to in a part; null: all. Points and edges choose the faces on them. */
export function chosenFaces(context: StepContext, node: number, mesh: Mesh): Uint8Array | null {
  const limit = context.only?.get(node)
  if (!limit) return null
  const faceCount = mesh.faceOffsets.length - 1
  const flags = new Uint8Array(faceCount)
  if (limit.element === 'faces') {
    for (const face of limit.elements) if (face < faceCount) flags[face] = 1
    return flags
  }
  const wanted = new Set(limit.elements)
  for (let face = 0; face < faceCount; face++)
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
      if (wanted.has(limit.element === 'corners' ? corner : mesh.faceVertices[corner]!)) flags[face] = 1
  return flags
}

/** Flags of the points that a step is limited to in a part; null: all. */
export function chosenPoints(context: StepContext, node: number, mesh: Mesh): Uint8Array | null {
  const limit = context.only?.get(node)
  if (!limit) return null
  const flags = new Uint8Array(mesh.points.length / 3)
  if (limit.element === 'points' || limit.element === 'edges')
    for (const point of limit.elements) flags[point] = 1
  else if (limit.element === 'corners')
    for (const corner of limit.elements) flags[mesh.faceVertices[corner]!] = 1
  else
    for (const face of limit.elements)
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++)
        flags[mesh.faceVertices[corner]!] = 1
  return flags
}

/** Why a recipe's step can't be run; its words are for the artist. */
export class StepRefusal extends Error {}

function checkParameter(descriptor: ParameterDescriptor, value: StepParameter): StepParameter {
  const refuse = (what: string): never => {
    throw new StepRefusal(`“${descriptor.name}” takes ${what}, not “${String(value)}”.`)
  }
  switch (descriptor.type) {
    case 'number':
      if (value === null && descriptor.default === null) return null
      if (typeof value !== 'number' || !Number.isFinite(value)) return refuse('a number')
      if (value < descriptor.min || value > descriptor.max)
        return refuse(`a number from ${descriptor.min} to ${descriptor.max}`)
      return descriptor.whole && !Number.isInteger(value) ? refuse('a whole number') : value
    case 'choice':
      return descriptor.choices.includes(String(value))
        ? value
        : refuse(`one of ${descriptor.choices.join(', ')}`)
    case 'boolean':
      return typeof value === 'boolean' ? value : refuse('true or false')
    case 'text':
      if (value === null && descriptor.default === null) return null
      return typeof value === 'string' && value.length <= descriptor.most
        ? value
        : refuse(`a text of at most ${descriptor.most} characters`)
  }
}

/** The parameters of a step with defaults filled in. @throws StepRefusal for what it does not take. */
export function fillParameters(
  descriptor: StepDescriptor,
  given: RecipeStep['params'],
): Record<string, StepParameter> {
  for (const name of Object.keys(given))
    if (!descriptor.parameters.some((parameter) => parameter.name === name))
      throw new StepRefusal(`The step “${descriptor.id}” has no parameter “${name}”.`)
  return Object.fromEntries(
    descriptor.parameters.map((parameter) => [
      parameter.name,
      given[parameter.name] === undefined
        ? parameter.default
        : checkParameter(parameter, given[parameter.name]!),
    ]),
  )
}

/** Prepares what a step is told. @throws StepRefusal. */
export function stepContext(
  scene: Scene,
  descriptor: StepDescriptor,
  step: RecipeStep,
  factsOf: (mesh: Mesh) => MeshFacts = createMeshFacts,
): StepContext {
  const params = fillParameters(descriptor, step.params)
  const paths = nodePaths(scene)
  const nodeOfPath = new Map(paths.map((path, node) => [path, node]))
  const wanted = step.parts ? new Set(step.parts) : null
  if (wanted)
    for (const path of wanted)
      if (!nodeOfPath.has(path)) throw new StepRefusal(`There is no part “${path}” in this model.`)
  const only = step.only
    ? new Map(
        step.only.map(({ part, element, elements }) => {
          const node = nodeOfPath.get(part)
          if (node === undefined || scene.nodes[node]!.mesh < 0)
            throw new StepRefusal(`There is no part “${part}” in this model.`)
          const mesh = scene.meshes[scene.nodes[node]!.mesh]!
          const count =
            element === 'faces'
              ? mesh.faceOffsets.length - 1
              : element === 'corners'
                ? mesh.faceVertices.length
                : mesh.points.length / 3
          if (elements.some((at) => at >= count))
            throw new StepRefusal(`The places on “${part}” belong to another version of the model.`)
          return [node, { element, elements: Uint32Array.from(elements) }] as const
        }),
      )
    : null
  return {
    scene,
    nodes: scene.nodes.flatMap((node, index) =>
      node.mesh >= 0 && (!wanted || wanted.has(paths[index]!)) && (!only || only.has(index)) ? [index] : [],
    ),
    only,
    factsOf,
    number: (name) => params[name] as number,
    numberOrNull: (name) => params[name] as number | null,
    text: (name) => (params[name] as string | null) ?? '',
    flag: (name) => params[name] as boolean,
  }
}
