/** Masters whose polygons were never joined, or not everywhere: they hang together by their places, and so does what comes back. */
import { countWelds, findWelds } from '../../mesh/welds/find-welds.ts'
import { weldsOfLoose } from '../../mesh/welds/loose-polygons.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Correspondence } from './correspondence.ts'
import { pairLoosePoints } from './pair-loose-points.ts'
import { EXACT, packPoints } from './rejoin-points.ts'

/**
 * Matches the polygons over points that are joined where they lie on each other, on both sides, and gives each corner's
 * points.
 *
 * @param correspond matches two meshes.
 * @returns null where the master's polygons are joined as they are, or nothing is found.
 */
export function correspondWelded(
  master: Mesh,
  returned: Mesh,
  reach: number,
  correspond: (master: Mesh, returned: Mesh) => Correspondence,
): Correspondence | null {
  const welds = weldsOfLoose(master, reach)
  return welds && overWelds(master, returned, welds, reach, correspond)
}

/**
 * The same where the master's points lie on each other here and there, as at its seams, and what came back was split in
 * more places: which of those were the master's own nobody can tell before they are all joined.
 *
 * @returns null where nothing of the master lies on anything else, or nothing more was split.
 */
export function correspondPartlyWelded(
  master: Mesh,
  returned: Mesh,
  reach: number,
  correspond: (master: Mesh, returned: Mesh) => Correspondence,
): Correspondence | null {
  if (pointCountOf(returned) <= pointCountOf(master)) return null
  if (![master, returned].every((mesh) => mesh.points.every(Number.isFinite))) return null
  const welds = findWelds(master.points, reach * EXACT)
  return countWelds(welds) > 0 ? overWelds(master, returned, welds, reach * EXACT, correspond) : null
}

function overWelds(
  master: Mesh,
  returned: Mesh,
  welds: Uint32Array,
  reach: number,
  correspond: (master: Mesh, returned: Mesh) => Correspondence,
): Correspondence | null {
  const own = packPoints(master, welds)
  const other = packPoints(returned, findWelds(returned.points, reach))
  const { joinedPoints, ...found } = correspond(own.mesh, other.mesh)
  if (found.matchedFaceCount === 0 || joinedPoints) return null
  const { cornerToReturned } = found
  const pointToReturned = new Int32Array(pointCountOf(master)).fill(-1)
  const joined = Uint32Array.from({ length: pointCountOf(returned) }, (_point, at) => at)
  const taken = new Uint8Array(joined.length)
  for (let corner = 0; corner < cornerCountOf(master); corner++) {
    const there = cornerToReturned[corner]!
    const point = master.faceVertices[corner]!
    if (there < 0 || pointToReturned[point]! >= 0) continue
    const to = returned.faceVertices[there]!
    pointToReturned[point] = to
    taken[to] = 1
  }
  const hasCorner = new Uint8Array(pointToReturned.length)
  for (const point of master.faceVertices) hasCorner[point] = 1
  if (hasCorner.includes(0)) {
    const back = new Int32Array(joined.length).fill(-1)
    pointToReturned.forEach((to, point) => {
      if (to >= 0) back[to] = point
    })
    // those of polygons that are gone go with nothing
    const all = pairLoosePoints(master, returned, pointToReturned.slice(), back)
    for (let point = 0; point < all.length; point++) {
      if (hasCorner[point] || all[point]! < 0) continue
      pointToReturned[point] = all[point]!
      taken[all[point]!] = 1
    }
  }
  // what was split on the way counts as what it was split from
  let isSplit = false
  for (let corner = 0; corner < cornerCountOf(master); corner++) {
    const there = cornerToReturned[corner]!
    if (there < 0) continue
    const to = returned.faceVertices[there]!
    const as = pointToReturned[master.faceVertices[corner]!]!
    if (to === as || taken[to] || joined[as] !== as) continue
    joined[to] = as
    isSplit = true
  }
  const isWhole = found.matchedFaceCount === faceCountOf(master)
  return {
    ...found,
    kind: isWhole && !found.cutFaceCount ? 'connectivity' : 'partial',
    pointToReturned,
    joinedPoints: isSplit ? joined : null,
  }
}
