/**
 * Makes a mesh with other polygons out of a mesh, carrying along everything that its points, corners, faces
 * and edges had. Every step that changes polygons says where its new elements come from, and nothing else.
 */
import { edgeKey } from '../relations/adjacency.ts'
import type { ColorSet, Creases, Mesh, PolyLines, Skin } from '../../scene/mesh.ts'

/** New elements as mixtures of old ones: `first`, and where `second` is not -1, a share of it. */
export interface Sources {
  readonly first: Int32Array
  /** Absent: nothing is mixed. */
  readonly second?: Int32Array
  /** 0: the first alone; 1: the second alone. */
  readonly share?: Float64Array
}

export interface Rebuild {
  /** 3 x new point count; absent: from the point sources. */
  readonly points?: Float64Array
  readonly pointSources: Sources
  readonly faceOffsets: Uint32Array
  /** New point numbers. */
  readonly faceVertices: Uint32Array
  /** One for each new corner. */
  readonly cornerSources: Sources
  /** One for each new face, an old face. */
  readonly faceSources: Int32Array
  /**
   * Sharpness and hardness of edges that were split: [from, to] pairs of new points each with the old edge's
   * two points; absent: edges keep their points.
   */
  readonly splitEdges?: readonly {
    readonly from: number
    readonly to: number
    readonly a: number
    readonly b: number
  }[]
  /** Where an old point went to, for creases, lines, shapes and skin; absent: from the first sources. */
  readonly pointOldToNew?: Int32Array
}

/** Sources without mixing. */
export const plainSources = (first: Int32Array): Sources => ({ first })

/**
 * A mesh of other points and polygons with every trait carried along: each new element says which old ones it comes
 * of and with what weights.
 */
export function rebuildMesh(mesh: Mesh, rebuild: Rebuild): Mesh {
  const oldPointCount = mesh.points.length / 3
  const newPointCount = rebuild.pointSources.first.length
  const oldToNew = rebuild.pointOldToNew ?? invert(rebuild.pointSources.first, oldPointCount)
  const points = rebuild.points ?? mixValues(mesh.points, 3, rebuild.pointSources)
  return {
    ...mesh,
    points,
    pointWeights: mesh.pointWeights && mixValues(mesh.pointWeights, 1, rebuild.pointSources),
    faceOffsets: rebuild.faceOffsets,
    faceVertices: rebuild.faceVertices,
    uvSets: mesh.uvSets.map((set) => {
      const carried = carryIndexed(set.values, set.indices, 2, rebuild.cornerSources)
      // the same corners give the same new numbers, so the third coordinates fall into the same order
      const depths = set.depths && carryIndexed(set.depths, set.indices, 1, rebuild.cornerSources).values
      return { name: set.name, ...carried, depths }
    }),
    normals:
      mesh.normals && carryIndexed(mesh.normals.values, mesh.normals.indices, 3, rebuild.cornerSources),
    smoothing: carrySmoothing(mesh, rebuild, oldToNew),
    creases: carryCreases(mesh.creases, oldToNew, rebuild),
    cutFrom: mesh.cutFrom ? Uint32Array.from(rebuild.faceSources, (face) => mesh.cutFrom![face]!) : null,
    faceMaterials: mesh.faceMaterials && rebuild.faceSources.map((face) => mesh.faceMaterials![face]!),
    groups: mesh.groups && {
      ...mesh.groups,
      faceSets: rebuild.faceSources.map((face) => mesh.groups!.faceSets[face]!),
    },
    colorSets: mesh.colorSets.map((set): ColorSet => {
      if (set.per === 'points')
        return { ...set, values: mixValues(set.values, set.components, rebuild.pointSources) }
      const { values, indices } = carryIndexed(set.values, set.indices, set.components, rebuild.cornerSources)
      return { ...set, values, indices }
    }),
    shapes: mesh.shapes.map((shape) => carryShape(shape, rebuild.pointSources, oldPointCount)),
    skin: mesh.skin && carrySkin(mesh.skin, rebuild.pointSources, newPointCount),
    lines: mesh.lines && carryLines(mesh.lines, oldToNew),
    pointElements: mesh.pointElements && mapPresent(mesh.pointElements, oldToNew),
  }
}

/** Old to new; where several new elements have one source, the first. */
export function invert(sources: Int32Array, oldCount: number): Int32Array {
  const map = new Int32Array(oldCount).fill(-1)
  for (let at = sources.length - 1; at >= 0; at--) if (sources[at]! >= 0) map[sources[at]!] = at
  return map
}

function mixValues(values: Float64Array, width: number, { first, second, share }: Sources): Float64Array {
  const mixed = new Float64Array(first.length * width)
  for (let at = 0; at < first.length; at++) {
    const a = first[at]! * width
    const b = second ? second[at]! * width : -1
    for (let k = 0; k < width; k++)
      mixed[at * width + k] =
        b < 0 ? values[a + k]! : values[a + k]! + share![at]! * (values[b + k]! - values[a + k]!)
  }
  return mixed
}

/**
 * Indexed values along new corners. Corners that are not mixed keep their old index, so that seams stay as
 * they were; mixed ones of the same two values and share get one new value. Values that no corner uses any
 * more go.
 */
function carryIndexed(
  values: Float64Array,
  indices: Int32Array,
  width: number,
  { first, second, share }: Sources,
): { values: Float64Array; indices: Int32Array } {
  const oldCount = values.length / width
  const carried = new Int32Array(first.length)
  const extra: number[] = []
  const known = new Map<string, number>()
  for (let corner = 0; corner < first.length; corner++) {
    const a = first[corner]! < 0 ? -1 : indices[first[corner]!]!
    const from = second && second[corner]! >= 0 ? second[corner]! : -1
    if (from < 0 || a < 0) {
      carried[corner] = a
      continue
    }
    const b = indices[from]!
    if (b < 0) {
      carried[corner] = -1
      continue
    }
    const t = share![corner]!
    // the same place from either side: the mixture does not depend on which end came first
    const key = a < b ? `${a} ${b} ${t}` : `${b} ${a} ${1 - t}`
    let value = known.get(key)
    if (value === undefined) {
      value = oldCount + extra.length / width
      known.set(key, value)
      for (let k = 0; k < width; k++) {
        const low = values[a * width + k]!
        extra.push(low + t * (values[b * width + k]! - low))
      }
    }
    carried[corner] = value
  }
  const all = new Float64Array(values.length + extra.length)
  all.set(values)
  all.set(extra, values.length)
  return dropUnused(all, carried, width)
}

/** Values that some index names, in their order. The same arrays where all are used. */
export function dropUnused(
  values: Float64Array,
  indices: Int32Array,
  width: number,
): { values: Float64Array; indices: Int32Array } {
  const count = values.length / width
  const newOf = new Int32Array(count).fill(-1)
  for (const index of indices) if (index >= 0) newOf[index] = 0
  let kept = 0
  for (let at = 0; at < count; at++) if (newOf[at] === 0) newOf[at] = kept++
  if (kept === count) return { values, indices }
  const fewer = new Float64Array(kept * width)
  for (let at = 0; at < count; at++)
    if (newOf[at]! >= 0) fewer.set(values.subarray(at * width, (at + 1) * width), newOf[at]! * width)
  return { values: fewer, indices: indices.map((index) => (index < 0 ? -1 : newOf[index]!)) }
}

function carrySmoothing(mesh: Mesh, rebuild: Rebuild, oldToNew: Int32Array): Mesh['smoothing'] {
  const { smoothing } = mesh
  if (!smoothing) return null
  if (smoothing.kind === 'groups')
    return { kind: 'groups', faceGroups: rebuild.faceSources.map((face) => smoothing.faceGroups[face]!) }
  if (smoothing.kind === 'masks')
    return {
      kind: 'masks',
      faceMasks: Uint32Array.from(rebuild.faceSources, (face) => smoothing.faceMasks[face]!),
    }
  const hard = new Set<number>()
  const pairs: number[] = []
  const add = (from: number, to: number): void => {
    if (from < 0 || to < 0 || from === to || hard.has(edgeKey(from, to))) return
    hard.add(edgeKey(from, to))
    pairs.push(from, to)
  }
  const split = new Set(rebuild.splitEdges?.map((edge) => edgeKey(edge.a, edge.b)))
  const listed = new Set<number>()
  for (let at = 0; at < smoothing.hardEdgePoints.length; at += 2) {
    const a = smoothing.hardEdgePoints[at]!
    const b = smoothing.hardEdgePoints[at + 1]!
    listed.add(edgeKey(a, b))
    if (!split.has(edgeKey(a, b))) add(oldToNew[a]!, oldToNew[b]!)
  }
  for (const edge of rebuild.splitEdges ?? [])
    if (listed.has(edgeKey(edge.a, edge.b))) add(edge.from, edge.to)
  return { kind: 'edges', hardEdgePoints: Uint32Array.from(pairs) }
}

function carryCreases(creases: Creases | null, oldToNew: Int32Array, rebuild: Rebuild): Creases | null {
  if (!creases) return null
  const edgePoints: number[] = []
  const edgeSharpness: number[] = []
  const placeOf = new Map<number, number>()
  const add = (from: number, to: number, sharpness: number): void => {
    if (from < 0 || to < 0 || from === to) return
    const known = placeOf.get(edgeKey(from, to))
    // two edges that became one keep the sharper of the two
    if (known !== undefined) edgeSharpness[known] = Math.max(edgeSharpness[known]!, sharpness)
    else {
      placeOf.set(edgeKey(from, to), edgeSharpness.length)
      edgePoints.push(from, to)
      edgeSharpness.push(sharpness)
    }
  }
  const split = new Map<number, { from: number; to: number }[]>()
  for (const edge of rebuild.splitEdges ?? []) {
    const held = split.get(edgeKey(edge.a, edge.b))
    if (held) held.push(edge)
    else split.set(edgeKey(edge.a, edge.b), [edge])
  }
  for (let at = 0; at < creases.edgeSharpness.length; at++) {
    const a = creases.edgePoints[2 * at]!
    const b = creases.edgePoints[2 * at + 1]!
    const pieces = split.get(edgeKey(a, b))
    if (pieces) for (const piece of pieces) add(piece.from, piece.to, creases.edgeSharpness[at]!)
    else add(oldToNew[a]!, oldToNew[b]!, creases.edgeSharpness[at]!)
  }
  const corners = new Map<number, number>()
  creases.cornerPoints.forEach((point, at) => {
    const to = oldToNew[point]!
    if (to >= 0) corners.set(to, Math.max(corners.get(to) ?? 0, creases.cornerSharpness[at]!))
  })
  if (edgeSharpness.length === 0 && corners.size === 0) return null
  return {
    edgePoints: Uint32Array.from(edgePoints),
    edgeSharpness: Float64Array.from(edgeSharpness),
    cornerPoints: Uint32Array.from(corners.keys()),
    cornerSharpness: Float64Array.from(corners.values()),
  }
}

function carryShape(
  shape: Mesh['shapes'][number],
  { first, second, share }: Sources,
  oldPointCount: number,
): Mesh['shapes'][number] {
  const placeOf = new Int32Array(oldPointCount).fill(-1)
  shape.points.forEach((point, at) => (placeOf[point] = at))
  const points: number[] = []
  const offsets: number[] = []
  for (let point = 0; point < first.length; point++) {
    const a = placeOf[first[point]!]!
    const b = second && second[point]! >= 0 ? placeOf[second[point]!]! : -1
    const mixes = second !== undefined && second[point]! >= 0
    if (a < 0 && b < 0) continue
    points.push(point)
    for (let axis = 0; axis < 3; axis++) {
      const from = a < 0 ? 0 : shape.offsets[3 * a + axis]!
      const to = b < 0 ? 0 : shape.offsets[3 * b + axis]!
      offsets.push(mixes ? from + share![point]! * (to - from) : from)
    }
  }
  const { normals: _normals, tangents: _tangents, ...rest } = shape
  return { ...rest, points: Uint32Array.from(points), offsets: Float64Array.from(offsets) }
}

function carrySkin(skin: Skin, { first, second, share }: Sources, newPointCount: number): Skin {
  const offsets = new Uint32Array(newPointCount + 1)
  const joints: number[] = []
  const weights: number[] = []
  for (let point = 0; point < newPointCount; point++) {
    const mixed = new Map<number, number>()
    const add = (from: number, part: number): void => {
      for (let at = skin.offsets[from]!; at < skin.offsets[from + 1]!; at++)
        mixed.set(skin.joints[at]!, (mixed.get(skin.joints[at]!) ?? 0) + part * skin.weights[at]!)
    }
    if (second && second[point]! >= 0) {
      add(first[point]!, 1 - share![point]!)
      add(second[point]!, share![point]!)
    } else if (first[point]! >= 0) add(first[point]!, 1)
    for (const [joint, weight] of mixed) {
      joints.push(joint)
      weights.push(weight)
    }
    offsets[point + 1] = joints.length
  }
  return {
    ...skin,
    offsets,
    joints: Uint32Array.from(joints),
    weights: Float64Array.from(weights),
  }
}

function carryLines(lines: PolyLines, oldToNew: Int32Array): PolyLines | null {
  const offsets = [0]
  const points: number[] = []
  const uvs: number[] = []
  for (let line = 0; line + 1 < lines.offsets.length; line++) {
    const start = points.length
    for (let at = lines.offsets[line]!; at < lines.offsets[line + 1]!; at++) {
      const point = oldToNew[lines.points[at]!]!
      if (point < 0 || (points.length > start && points[points.length - 1] === point)) continue
      points.push(point)
      uvs.push(lines.uvs[at]!)
    }
    if (points.length - start >= 2) offsets.push(points.length)
    else points.length = uvs.length = start
  }
  return offsets.length > 1
    ? { offsets: Uint32Array.from(offsets), points: Uint32Array.from(points), uvs: Int32Array.from(uvs) }
    : null
}

function mapPresent(elements: Uint32Array, oldToNew: Int32Array): Uint32Array | null {
  const mapped = Array.from(elements, (point) => oldToNew[point]!).filter((point) => point >= 0)
  return mapped.length ? Uint32Array.from(new Set(mapped)) : null
}
