/** Points that a tool split, at seams, at hard edges or at every corner, taken for one again. */
import { countWelds, findWelds } from '../../mesh/welds/find-welds.ts'
import { pointCountOf, type Mesh } from '../../scene/mesh.ts'

/** Share of the reach within which copies of one point lie: tools move and round them alike. */
export const EXACT = 1e-4

export interface Splits {
  /** One a returned point: the one that it counts as, itself for most. */
  readonly joined: Uint32Array
  /** How many more lie on others than do in the master. */
  readonly count: number
}

/**
 * Which returned points were split from one, as far as their places say: by a much smaller distance where that explains
 * why there are more than there were. Of small things that the master has beside each other none is taken for another then.
 */
export function findSplits(master: Mesh, returned: Mesh, reach: number): Splits {
  const joined = findWelds(returned.points, reach)
  const welds = countWelds(joined)
  if (welds === 0) return { joined, count: 0 }
  const own = countWelds(findWelds(master.points, reach))
  const more = pointCountOf(returned) - pointCountOf(master)
  if (own > 0 && more > 0) {
    const exact = findWelds(returned.points, reach * EXACT)
    const count = countWelds(exact) - countWelds(findWelds(master.points, reach * EXACT))
    if (count >= more) return { joined: exact, count }
  }
  return { joined, count: welds - own }
}

/**
 * The mesh with everything that hangs points together naming the ones that split points count as; points keep their
 * numbers, and what each of them carries: place, colour, weights, and how shapes move it.
 *
 * @param joined one a point: the one that it counts as, itself for most.
 */
export function rejoinPoints(mesh: Mesh, joined: Uint32Array): Mesh {
  const follow = (points: Uint32Array): Uint32Array => points.map((point) => joined[point]!)
  const { smoothing, creases, lines } = mesh
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
    pointElements: mesh.pointElements && follow(mesh.pointElements),
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
