/** Points that a tool split, at seams, at hard edges or at every corner, taken for one again. */
import { findWelds } from '../edit/find-welds.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../scene/mesh.ts'

/**
 * For each returned point the one that it may have been split from: a point with a counterpart that lies within
 * `reach` of it (absolute, in the mesh's own space), else itself.
 *
 * @param pointToReturned one a master point; -1 for none.
 */
export function findSplitPoints(returned: Mesh, pointToReturned: Int32Array, reach: number): Uint32Array {
  const joined = findWelds(returned.points, reach)
  const hasCounterpart = new Uint8Array(pointCountOf(returned))
  const keeperOf = new Map<number, number>()
  for (const point of pointToReturned) if (point >= 0) hasCounterpart[point] = 1
  hasCounterpart.forEach((has, point) => {
    if (has && !keeperOf.has(joined[point]!)) keeperOf.set(joined[point]!, point)
  })
  return joined.map((first, point) => (hasCounterpart[point] ? point : (keeperOf.get(first) ?? point)))
}

/** Splits that no polygon known to the master has a part in are none: those points are the tool's own work. */
export function confirmSplits(
  returned: Mesh,
  joined: Uint32Array,
  isKnownFace: (face: number) => boolean,
): Uint32Array | null {
  const confirmed = Uint32Array.from(joined.keys())
  let splitCount = 0
  for (let face = 0; face < faceCountOf(returned); face++) {
    if (!isKnownFace(face)) continue
    for (let corner = returned.faceOffsets[face]!; corner < returned.faceOffsets[face + 1]!; corner++) {
      const point = returned.faceVertices[corner]!
      if (joined[point] === confirmed[point]) continue
      confirmed[point] = joined[point]!
      splitCount++
    }
  }
  return splitCount ? confirmed : null
}

/** The mesh with everything that names a split point naming the one it counts as; points keep their numbers. */
export function rejoinPoints(mesh: Mesh, joined: Uint32Array): Mesh {
  const follow = (points: Uint32Array): Uint32Array => points.map((point) => joined[point]!)
  const { smoothing, creases, lines } = mesh
  const stays = (point: number): boolean => joined[point] === point
  return {
    ...mesh,
    faceVertices: follow(mesh.faceVertices),
    smoothing:
      smoothing?.kind === 'edges'
        ? { ...smoothing, hardEdgePoints: follow(smoothing.hardEdgePoints) }
        : smoothing,
    creases: creases && {
      ...creases,
      edgePoints: follow(creases.edgePoints),
      cornerPoints: follow(creases.cornerPoints),
    },
    lines: lines && { ...lines, points: follow(lines.points) },
    shapes: mesh.shapes.map((shape) =>
      shape.points.every(stays)
        ? shape
        : {
            ...shape,
            points: shape.points.filter(stays),
            offsets: shape.offsets.filter((_value, at) => stays(shape.points[Math.floor(at / 3)]!)),
            normals: null,
          },
    ),
  }
}

/** Without the points that count as another: the mesh, and for each of its points the number it had. */
export function packPoints(mesh: Mesh, joined: Uint32Array): { mesh: Mesh; pointSources: Uint32Array } {
  const pointSources = Uint32Array.from(joined.keys()).filter((point) => joined[point] === point)
  const numberOf = new Uint32Array(joined.length)
  pointSources.forEach((point, at) => (numberOf[point] = at))
  const points = new Float64Array(3 * pointSources.length)
  pointSources.forEach((point, at) => points.set(mesh.points.subarray(3 * point, 3 * point + 3), 3 * at))
  return {
    mesh: { ...mesh, points, faceVertices: mesh.faceVertices.map((point) => numberOf[joined[point]!]!) },
    pointSources,
  }
}
