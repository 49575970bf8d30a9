/**
 * A step: one operation on a scene, one file each. It gives a new scene that shares every array it did not
 * touch, says how much it changed and where, and never changes anything in place.
 */
import { checkOptions, OptionRefusal } from '../base/options/check-options.ts'
import {
  defaultsOf,
  hasValue,
  type OptionChoice,
  type OptionDescriptor,
  type OptionValues,
} from '../base/options/option.ts'
import { createMeshFacts, type MeshFacts } from '../mesh/relations/mesh-facts.ts'
import type { Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { findParts } from '../scene/find-parts.ts'
import { nodeWithId } from '../scene/ids.ts'
import type { Trait } from '../compare/traits/registry.ts'
import type { Places } from '../compare/traits/trait.ts'
import type { RecipeStep } from './recipe.ts'

export type StepArea = 'clean' | 'polygons' | 'shading' | 'uvs' | 'parts' | 'scene' | 'materials'

/** Choices that are called by their own words. */
export const wordChoices = (...words: readonly string[]): OptionChoice[] =>
  words.map((value) => ({ value, title: value }))

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
  /** What is to be said of how the parts were found, for the artist. */
  readonly notes: readonly string[]
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
  /** Lengths are in the file's unit, angles in degrees. */
  readonly parameters: readonly OptionDescriptor[]
  readonly run: (context: StepContext) => StepOutcome
}

/** Polygons that one part may have after a step that makes more; beyond what today's tools take in a file. */
export const MOST_FACES = 20_000_000

/**
 * Called before anything is made.
 * @throws StepRefusal where a part would have more polygons than the limit.
 */
export function refuseBeyond(name: string, faces: number, most = MOST_FACES): void {
  if (faces > most)
    throw new StepRefusal(
      `“${name}” would have ${faces.toLocaleString('en-US')} polygons; ${most.toLocaleString('en-US')} is the limit.`,
    )
}

/** A distance that a step goes by itself where none is given. */
export const DISTANCE: OptionDescriptor = {
  id: 'distance',
  title: 'Distance',
  kind: 'number',
  unit: 'file unit',
  default: null,
  min: 0,
  max: 1e12,
}

/** What a step did: the scene, how many of what it changed, and what there is to say. */
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

/** How many names a sentence lists before it counts the rest. */
const NAMES_SAID = 3

/** Names as a sentence lists them. */
export const saidNames = (names: readonly string[]): string =>
  names
    .slice(0, NAMES_SAID)
    .map((name) => `“${name}”`)
    .join(', ') + (names.length > NAMES_SAID ? ` and ${names.length - NAMES_SAID} more` : '')

/**
 * Runs an edit over the meshes of the chosen parts, each mesh once however many of them show it. A mesh that other
 * parts show too is left to these, and the chosen ones get one of their own; that is told.
 * @param edit gives null where there is nothing to do.
 */
export function changeMeshes(
  context: StepContext,
  of: string,
  edit: (mesh: Mesh, facts: MeshFacts, node: number) => MeshChange | null,
): StepOutcome {
  const { scene } = context
  const meshes = [...scene.meshes]
  const nodes = [...scene.nodes]
  const places: StepPlaces[] = []
  const notes: string[] = []
  let warning: string | null = null
  let changedCount = 0
  const chosen = new Set(context.nodes)
  const others = new Map<number, string[]>()
  scene.nodes.forEach(({ mesh, name }, node) => {
    if (mesh < 0 || chosen.has(node)) return
    const held = others.get(mesh)
    if (held) held.push(name)
    else others.set(mesh, [name])
  })
  const done = new Set<number>()
  for (const node of context.nodes) {
    const index = scene.nodes[node]!.mesh
    if (done.has(index)) continue
    done.add(index)
    const mesh = meshes[index]!
    const change = edit(mesh, context.factsOf(mesh), node)
    if (!change) continue
    notes.push(...(change.notes ?? []))
    warning ??= change.warning ?? null
    if (change.changedCount === 0) continue
    const stays = others.get(index)
    if (stays) {
      const place = meshes.push({ ...change.mesh, id: '' }) - 1
      const users = context.nodes.filter((user) => scene.nodes[user]!.mesh === index)
      for (const user of users) nodes[user] = { ...nodes[user]!, mesh: place }
      notes.push(
        `${saidNames(users.map((user) => scene.nodes[user]!.name))} showed the same mesh as ${saidNames(stays)} and ${users.length === 1 ? 'has one of its own' : 'have one of their own'} now.`,
      )
    } else meshes[index] = change.mesh
    changedCount += change.changedCount
    if (change.element && change.elements)
      places.push({ node, element: change.element, elements: Uint32Array.from(change.elements) })
  }
  return outcome(changedCount > 0 ? { ...scene, nodes, meshes } : scene, changedCount, of, {
    places,
    notes: [...new Set(notes)],
    warning,
  })
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

/** The parameters of a step with defaults filled in. @throws StepRefusal for what it does not take. */
export function fillParameters(descriptor: StepDescriptor, given: RecipeStep['params']): OptionValues {
  const known = descriptor.parameters.filter(hasValue)
  for (const id of Object.keys(given))
    if (!known.some((parameter) => parameter.id === id))
      throw new StepRefusal(`The step “${descriptor.id}” has no parameter “${id}”.`)
  try {
    return { ...defaultsOf(known), ...checkOptions(known, given) }
  } catch (error) {
    if (error instanceof OptionRefusal) throw new StepRefusal(error.message)
    throw error
  }
}

function knownNode(scene: Scene, id: string): number {
  const node = nodeWithId(scene, id)
  if (node < 0) throw new StepRefusal('A part that this step is meant for is not in this model.')
  return node
}

/** Prepares what a step is told. @throws StepRefusal. */
export function stepContext(
  scene: Scene,
  descriptor: StepDescriptor,
  step: RecipeStep,
  factsOf: (mesh: Mesh) => MeshFacts = createMeshFacts,
): StepContext {
  const params = fillParameters(descriptor, step.params)
  const notes: string[] = []
  let wanted: Set<number> | null = null
  if (step.parts || step.nodes) {
    wanted = new Set(step.nodes?.map((id) => knownNode(scene, id)))
    for (const word of step.parts ?? []) {
      const { nodes, byPattern } = findParts(scene, word)
      if (nodes.length === 0) throw new StepRefusal(`There is no part “${word}” in this model.`)
      if (nodes.length > 1 && !byPattern)
        notes.push(`“${word}” is the name of ${nodes.length} parts; all of them take part.`)
      for (const node of nodes) wanted.add(node)
    }
  }
  const only = step.only
    ? new Map(
        step.only.map(({ node: id, element, elements }) => {
          const node = knownNode(scene, id)
          const { name, mesh: index } = scene.nodes[node]!
          if (index < 0) throw new StepRefusal(`“${name}” has no polygons.`)
          const mesh = scene.meshes[index]!
          const count =
            element === 'faces'
              ? mesh.faceOffsets.length - 1
              : element === 'corners'
                ? mesh.faceVertices.length
                : mesh.points.length / 3
          if (elements.some((at) => at >= count))
            throw new StepRefusal(`The places on “${name}” belong to another version of the model.`)
          return [node, { element, elements: Uint32Array.from(elements) }] as const
        }),
      )
    : null
  return {
    scene,
    notes,
    nodes: scene.nodes.flatMap((node, index) =>
      node.mesh >= 0 && (!wanted || wanted.has(index)) && (!only || only.has(index)) ? [index] : [],
    ),
    only,
    factsOf,
    number: (name) => params[name] as number,
    numberOrNull: (name) => params[name] as number | null,
    text: (name) => (params[name] as string | null) ?? '',
    flag: (name) => params[name] as boolean,
  }
}
