/** Subdivision of a whole mesh: points, UVs, normals, creases, materials, groups, colours and shapes together. */
import { edgeKey } from '../relations/adjacency.ts'
import {
  NO_SUBDIVISION,
  pointCountOf,
  type ColorSet,
  type Creases,
  type Mesh,
  type UvSet,
} from '../../scene/mesh.ts'
import {
  describeChannel,
  describeTopology,
  edgePointFinder,
  refineTopology,
  refineValues,
  sharpenSingleFacePoints,
  type RefineTopology,
  type UvMode,
} from './subdivide-catmull-clark.ts'

export interface SubdivideOptions {
  readonly levels: number
  readonly uvMode: UvMode
  /** Border points with one face stay corners. */
  readonly sharpCorners: boolean
}

/** Faces that a mesh has after subdividing; for refusing what would not fit. */
export function subdividedFaceCount(mesh: Mesh, levels: number): number {
  return levels === 0 ? mesh.faceOffsets.length - 1 : mesh.faceVertices.length * 4 ** (levels - 1)
}

/**
 * Catmull-Clark subdivision, level by level. Authored normals and skins go (they follow from the new surface
 * and its neighbours); creases keep what sharpness is left; smoothing groups, materials and face groups are
 * those of the parent face.
 */
export function subdivideMesh(mesh: Mesh, options: SubdivideOptions): Mesh {
  let current = mesh
  for (let level = 0; level < options.levels; level++) current = subdivideOnce(current, options)
  return { ...current, subdivision: NO_SUBDIVISION }
}

/**
 * Where the points of a subdivided mesh lie, without the polygons of its last level: 3 x n, in the mesh's own space, first
 * the mesh's own points in their order.
 */
export function subdividedPoints(mesh: Mesh, options: SubdivideOptions): Float64Array {
  let current = mesh
  for (let level = 0; level + 1 < options.levels; level++) current = subdivideOnce(current, options)
  return options.levels === 0
    ? mesh.points
    : refineValues(current.points, 3, topologyOf(current, options.sharpCorners))
}

function topologyOf(mesh: Mesh, sharpCorners: boolean): RefineTopology {
  const topology = describeTopology(pointCountOf(mesh), mesh.faceOffsets, mesh.faceVertices)
  if (mesh.creases && mesh.creases.edgeSharpness.length) {
    const sharpness = new Map<number, number>()
    mesh.creases.edgeSharpness.forEach((value, at) =>
      sharpness.set(edgeKey(mesh.creases!.edgePoints[2 * at]!, mesh.creases!.edgePoints[2 * at + 1]!), value),
    )
    for (let edge = 0; edge < topology.edgeCount; edge++) {
      const own = sharpness.get(edgeKey(topology.edgePoints[2 * edge]!, topology.edgePoints[2 * edge + 1]!))
      if (own !== undefined) topology.edgeSharpness[edge] = Math.max(topology.edgeSharpness[edge]!, own)
    }
  }
  mesh.creases?.cornerPoints.forEach((point, at) => {
    topology.pointSharpness[point] = Math.max(
      topology.pointSharpness[point]!,
      mesh.creases!.cornerSharpness[at]!,
    )
  })
  if (sharpCorners) sharpenSingleFacePoints(topology)
  return topology
}

function subdivideOnce(mesh: Mesh, { uvMode, sharpCorners }: SubdivideOptions): Mesh {
  const topology = topologyOf(mesh, sharpCorners)
  const refined = refineTopology(topology)
  const faceParents = new Int32Array(refined.faceCount)
  for (let face = 0; face < topology.faceCount; face++) {
    const end = topology.faceOffsets[face + 1]!
    for (let child = topology.faceOffsets[face]!; child < end; child++) faceParents[child] = face
  }
  const points = refineValues(mesh.points, 3, topology)
  const byFace = <Array extends Int32Array>(values: Array): Int32Array =>
    faceParents.map((face) => values[face]!)
  const edgePointOf = mesh.creases || mesh.smoothing?.kind === 'edges' ? edgePointFinder(topology) : null
  return {
    ...mesh,
    points,
    pointWeights: mesh.pointWeights && refineValues(mesh.pointWeights, 1, topology),
    faceOffsets: refined.faceOffsets,
    faceVertices: refined.faceVertices,
    uvSets: mesh.uvSets.map((set) => refineUvs(set, topology, uvMode)),
    normals: null,
    smoothing:
      mesh.smoothing?.kind === 'groups'
        ? { kind: 'groups', faceGroups: byFace(mesh.smoothing.faceGroups) }
        : mesh.smoothing?.kind === 'masks'
          ? {
              kind: 'masks',
              faceMasks: Uint32Array.from(
                faceParents,
                (face) => (mesh.smoothing as { faceMasks: Uint32Array }).faceMasks[face]!,
              ),
            }
          : mesh.smoothing && {
              kind: 'edges',
              hardEdgePoints: Uint32Array.from(halves(mesh.smoothing.hardEdgePoints, edgePointOf!).flat()),
            },
    creases: mesh.creases && refineCreases(mesh.creases, edgePointOf!),
    cutFrom: null,
    faceMaterials: mesh.faceMaterials && byFace(mesh.faceMaterials),
    groups: mesh.groups && { ...mesh.groups, faceSets: byFace(mesh.groups.faceSets) },
    colorSets: mesh.colorSets.map((set) => refineColours(set, topology)),
    shapes: mesh.shapes.map((shape) => {
      const moved = mesh.points.slice()
      shape.points.forEach((point, at) => {
        for (let axis = 0; axis < 3; axis++) moved[3 * point + axis]! += shape.offsets[3 * at + axis]!
      })
      const offsets = refineValues(moved, 3, topology)
      const kept: number[] = []
      const values: number[] = []
      for (let point = 0; point < offsets.length / 3; point++) {
        const by = [0, 1, 2].map((axis) => offsets[3 * point + axis]! - points[3 * point + axis]!)
        if (by.every((value) => value === 0)) continue
        kept.push(point)
        values.push(...by)
      }
      return {
        ...shape,
        points: Uint32Array.from(kept),
        offsets: Float64Array.from(values),
        normals: null,
      }
    }),
    skin: null,
  }
}

/** Each pair of points as the two pairs that its edge becomes. */
function halves(pairs: Uint32Array, edgePointOf: (a: number, b: number) => number): number[][] {
  const found: number[][] = []
  for (let at = 0; at < pairs.length; at += 2) {
    const middle = edgePointOf(pairs[at]!, pairs[at + 1]!)
    found.push(middle < 0 ? [] : [pairs[at]!, middle, middle, pairs[at + 1]!])
  }
  return found
}

const left = (sharpness: number): number => (sharpness >= 10 ? sharpness : Math.max(0, sharpness - 1))

function refineCreases(creases: Creases, edgePointOf: (a: number, b: number) => number): Creases | null {
  const edgePoints: number[] = []
  const edgeSharpness: number[] = []
  halves(creases.edgePoints, edgePointOf).forEach((pairs, at) => {
    const sharpness = left(creases.edgeSharpness[at]!)
    if (sharpness <= 0 || pairs.length === 0) return
    edgePoints.push(...pairs)
    edgeSharpness.push(sharpness, sharpness)
  })
  const cornerPoints: number[] = []
  const cornerSharpness: number[] = []
  creases.cornerPoints.forEach((point, at) => {
    const sharpness = left(creases.cornerSharpness[at]!)
    if (sharpness <= 0) return
    cornerPoints.push(point)
    cornerSharpness.push(sharpness)
  })
  if (edgeSharpness.length + cornerPoints.length === 0) return null
  return {
    edgePoints: Uint32Array.from(edgePoints),
    edgeSharpness: Float64Array.from(edgeSharpness),
    cornerPoints: Uint32Array.from(cornerPoints),
    cornerSharpness: Float64Array.from(cornerSharpness),
  }
}

/** Corners without a value get one each of their own, so that the channel is whole; `absent` flags them. */
function wholeIndices(
  indices: Int32Array,
  valueCount: number,
): { whole: Uint32Array; total: number; absent: boolean } {
  let total = valueCount
  let absent = false
  const whole = Uint32Array.from(indices, (index) => {
    if (index >= 0) return index
    absent = true
    return total++
  })
  return { whole, total, absent }
}

function refineChannel(
  values: Float64Array,
  indices: Int32Array,
  width: number,
  surface: RefineTopology,
  mode: UvMode,
): { values: Float64Array; indices: Int32Array } {
  const { whole, total, absent } = wholeIndices(indices, values.length / width)
  const padded = new Float64Array(total * width)
  padded.set(values)
  const channel = describeChannel(surface, whole, total, mode)
  const refined = refineTopology(channel)
  const next = Int32Array.from(refined.faceVertices)
  if (absent)
    // children of a face that is not wholly mapped are not mapped
    for (let face = 0; face < surface.faceCount; face++) {
      const start = surface.faceOffsets[face]!
      const end = surface.faceOffsets[face + 1]!
      if (indices.subarray(start, end).some((index) => index < 0)) next.fill(-1, 4 * start, 4 * end)
    }
  return { values: refineValues(padded, width, channel), indices: next }
}

const refineUvs = (set: UvSet, surface: RefineTopology, mode: UvMode): UvSet => ({
  name: set.name,
  ...refineChannel(set.values, set.indices, 2, surface, mode),
  depths: set.depths && refineChannel(set.depths, set.indices, 1, surface, mode).values,
})

function refineColours(set: ColorSet, topology: RefineTopology): ColorSet {
  // colours stay within the range they had: linear, as a surface smooth in space would overshoot
  if (set.per === 'corners')
    return { ...set, ...refineChannel(set.values, set.indices, set.components, topology, 'all') }
  const linear = {
    ...topology,
    edgeSharpness: new Float64Array(topology.edgeCount).fill(10),
    pointSharpness: new Float64Array(topology.pointCount).fill(10),
  }
  return { ...set, values: refineValues(set.values, set.components, linear) }
}
