/** What steps that lay islands out share: islands of several parts packed together, and written into their meshes. */
import type { Mesh, UvSet } from '../../scene/mesh.ts'
import { worldMatrices } from '../../scene/world.ts'
import { meanScale } from '../../base/math/matrix.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { hasNoSize } from '../../uv/islands/lay-faces.ts'
import type { LaidIsland } from '../../uv/islands/laid-island.ts'
import { islandsInSet, outlineOf, withIslands, withUvSet } from '../../uv/islands/laid-island.ts'
import { placeIslands, type PlaceOptions } from '../../uv/islands/place-islands.ts'
import { outlineArea, type Outline } from '../../uv/pack/outline.ts'
import { findSeams } from '../../uv/uv-measures.ts'
import type { OptionDescriptor } from '../../base/options/option.ts'
import { changeMeshes, type MeshChange, type StepContext, type StepOutcome } from '../step.ts'

export const UV_SET: OptionDescriptor = { id: 'set', title: 'UV set', kind: 'text', default: '', most: 200 }

export const PADDING: OptionDescriptor = {
  id: 'padding',
  title: 'Padding',
  kind: 'number',
  unit: 'pixels',
  default: 8,
  min: 0,
  max: 512,
}

export const MAP_SIZE: OptionDescriptor = {
  id: 'mapSize',
  title: 'Map size',
  kind: 'number',
  unit: 'pixels',
  default: 2048,
  min: 16,
  max: 65536,
  whole: true,
}

export const FLATTEN_METHODS = [
  { value: 'leastDistortion', title: 'least distortion' },
  { value: 'angles', title: 'angles kept' },
  { value: 'sizes', title: 'sizes kept' },
]

/** The set that a step means: by its name, or the first. */
export const setNamed = (mesh: Mesh, name: string): UvSet | null =>
  (name === '' ? mesh.uvSets[0] : mesh.uvSets.find((set) => set.name === name)) ?? null

export const NEW_SET_NAME = 'uv'

/** Islands of a mesh on their way to a place. */
export interface MeshIslands {
  readonly mesh: number
  readonly node: number
  readonly islands: readonly LaidIsland[]
  /** What each island's coordinates are multiplied by, so that all are alike. */
  readonly scales: readonly number[]
  readonly groups: readonly number[]
}

/** How much larger a part stands in the world than its mesh is, in all directions together. */
export const worldScale = (context: StepContext, node: number): number =>
  meanScale(worldMatrices(context.scene)[node]!) || 1

/**
 * What an island has to be multiplied by to be as large as the surface it lies on is in the world; what lies on no surface
 * to speak of keeps the size it was laid with.
 */
export function evenScale(island: LaidIsland, facts: MeshFacts, world: number): number {
  if (hasNoSize(facts, island.net.faces)) return world
  const areas = facts.faceAreas()
  let surface = 0
  for (let at = 0; at < island.net.faces.length; at++) surface += areas[island.net.faces[at]!]!
  const flat = outlineArea(outlineOf(island))
  return flat > 0 ? world * Math.sqrt(surface / flat) : world
}

/** Meshes of the chosen parts, each once, with the first part that shows it. */
export function chosenMeshes(context: StepContext): { mesh: number; node: number }[] {
  const seen = new Set<number>()
  return context.nodes.flatMap((node) => {
    const { mesh } = context.scene.nodes[node]!
    if (seen.has(mesh)) return []
    seen.add(mesh)
    return [{ mesh, node }]
  })
}

const percent = (share: number): string => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`

/** Islands of parts that stay as they are and share a map with the chosen ones: what is packed keeps off them. */
export function lockedIslands(
  context: StepContext,
  setName: string,
): {
  outlines: Outline[]
  /** UV units to one of the world's, in the middle; null where none says. */ scale: number | null
} {
  const { scene } = context
  const chosen = new Set(context.nodes.map((node) => scene.nodes[node]!.mesh))
  const materials = new Set<number>()
  for (const mesh of chosen)
    for (const material of scene.meshes[mesh]!.faceMaterials ?? [-1]) materials.add(material)
  const outlines: Outline[] = []
  const scales: number[] = []
  const seen = new Set<number>()
  scene.nodes.forEach(({ mesh: index }, node) => {
    if (index < 0 || chosen.has(index) || seen.has(index)) return
    seen.add(index)
    const mesh = scene.meshes[index]!
    const set = setNamed(mesh, setName)
    if (!set) return
    const own = mesh.faceMaterials
    const takesPart = own ? Uint8Array.from(own, (material) => (materials.has(material) ? 1 : 0)) : null
    if (takesPart ? !takesPart.includes(1) : !materials.has(-1)) return
    const facts = context.factsOf(mesh)
    for (const island of islandsInSet(facts, set, takesPart)) {
      outlines.push(outlineOf(island))
      scales.push(1 / evenScale(island, facts, worldScale(context, node)))
    }
  })
  scales.sort((a, b) => a - b)
  return { outlines, scale: scales[scales.length >> 1] ?? null }
}

/** All islands packed, and what is to be said of it. */
export function packTogether(
  given: readonly MeshIslands[],
  options: PlaceOptions & { readonly locked?: readonly Outline[] },
): { islands: Map<number, LaidIsland[]>; notes: string[] } {
  const all = given.flatMap(({ islands, scales, groups }) =>
    islands.map((island, at) => ({ island, scale: scales[at]!, group: groups[at]! })),
  )
  const placed = placeIslands(all, options)
  const islands = new Map<number, LaidIsland[]>()
  let at = 0
  for (const own of given) {
    islands.set(own.mesh, placed.islands.slice(at, at + own.islands.length))
    at += own.islands.length
  }
  const tiles = placed.tileCount === 1 ? 'the tile' : `${placed.tileCount} tiles`
  // where something stays the first tile may have no room
  const isBeside =
    options.locked?.length && placed.islands.every(({ flat }) => flat.length === 0 || flat[0]! >= 1)
  return {
    islands,
    notes:
      all.length === 0
        ? []
        : [
            ...(isBeside
              ? ['There is no room beside the islands that stay; these lie in a tile that is free.']
              : []),
            // of what reaches over its border a share of the tiles says nothing
            ...(placed.overBorder > 0
              ? []
              : [
                  `${all.length} ${all.length === 1 ? 'island uses' : 'islands use'} ${percent(placed.usedShare)} of ${tiles}; packed by their boxes ${percent(placed.boxShare)} would be the most.`,
                ]),
            ...(placed.padding < options.padding
              ? [
                  `So many islands have no room for the padding: ${percent(placed.padding / Math.max(options.padding, 1e-300))} of it is kept between them.`,
                ]
              : []),
            ...(placed.overBorder > 0
              ? [
                  `At this texel density ${placed.overBorder === 1 ? 'one island is' : `${placed.overBorder} islands are`} larger than a tile and ${placed.overBorder === 1 ? 'reaches' : 'reach'} over its border.`,
                ]
              : []),
          ],
  }
}

/** 2 x seam count points: where islands end inside the surface. */
function seamPoints(facts: MeshFacts, set: UvSet): number[] {
  const { edgePoints } = facts.edges()
  const points: number[] = []
  findSeams(facts, set).forEach((isSeam, edge) => {
    if (isSeam) points.push(edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!)
  })
  return points
}

/**
 * Writes islands into the meshes they belong to.
 * @param setOf which set they go into, and the one that other corners keep; null: none.
 * @param showSeams the places are the seams, not the polygons.
 */
export function writeIslands(
  context: StepContext,
  islandsOf: ReadonlyMap<number, readonly LaidIsland[]>,
  setOf: (mesh: Mesh) => { name: string; before: UvSet | null },
  notesOf: (mesh: number) => readonly string[] = () => [],
  showSeams = false,
): StepOutcome {
  return changeMeshes(context, 'polygons', (mesh, facts, node): MeshChange | null => {
    const index = context.scene.nodes[node]!.mesh
    const islands = islandsOf.get(index)
    const notes = notesOf(index)
    if (!islands?.length) return notes.length ? { mesh, changedCount: 0, notes } : null
    const { name, before } = setOf(mesh)
    const set = withIslands(mesh, before, name, islands)
    const count = islands.reduce((sum, { net }) => sum + net.faces.length, 0)
    return {
      mesh: withUvSet(mesh, set),
      changedCount: count,
      ...(showSeams
        ? { element: 'edges', elements: seamPoints(facts, set) }
        : { element: 'faces', elements: islands.flatMap(({ net }) => Array.from(net.faces)) }),
      notes,
    }
  })
}

/** A mesh in whose set these islands lie as they say; null where there are none and nothing is to be said. */
export function islandsChanged(
  mesh: Mesh,
  set: UvSet,
  islands: readonly LaidIsland[],
  notes: readonly string[] = [],
): MeshChange | null {
  if (islands.length === 0) return notes.length ? { mesh, changedCount: 0, notes } : null
  const faces = islands.flatMap(({ net }) => Array.from(net.faces))
  return {
    mesh: withUvSet(mesh, withIslands(mesh, set, set.name, islands)),
    changedCount: faces.length,
    element: 'faces',
    elements: faces,
    notes,
  }
}
