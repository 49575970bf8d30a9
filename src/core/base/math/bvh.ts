/**
 * A tree of boxes over polygons, for rays. Built bottom-up over polygons sorted along a space-filling curve
 * (Morton order; Lauterbach et al., "Fast BVH Construction on GPUs", 2009): not the best tree, but a million
 * polygons are sorted in a third of the time that splitting by surface area took.
 */
import { boundsOf } from './box.ts'

export interface RayScene {
  /** 3 x pointCount, all in one space. */
  readonly points: Float64Array
  readonly faceOffsets: Uint32Array
  readonly faceVertices: Uint32Array
}

export interface Bvh {
  /**
   * A polygon other than `except` that a ray from (ox, oy, oz) along (dx, dy, dz) meets, whichever is found first; -1
   * for none. `likely` is asked first: what stopped a ray beside it mostly stops this one too.
   */
  readonly firstHit: (
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    except: number,
    likely?: number,
  ) => number
  /**
   * The place on any polygon that `accept` lets pass nearest to (x, y, z), nearer than `within`; null for none. `accept`
   * asks this tree for no place itself.
   */
  readonly nearest: (
    x: number,
    y: number,
    z: number,
    accept?: ((face: number) => boolean) | null,
    within?: number,
  ) => Nearest | null
  /** The place on one polygon nearest to (x, y, z); null for one of fewer than three corners. */
  readonly nearestOnFace: (face: number, x: number, y: number, z: number) => Nearest | null
}

export interface Nearest {
  readonly face: number
  /** Corners of the face that the place lies between, numbered within all corners, and their shares, which sum to 1. */
  readonly corners: readonly [number, number, number]
  readonly shares: readonly [number, number, number]
  readonly point: readonly [number, number, number]
  readonly distance: number
}

const LEAF_FACES = 4

const spread = (value: number): number => {
  let v = value & 1023
  v = (v | (v << 16)) & 0x030000ff
  v = (v | (v << 8)) & 0x0300f00f
  v = (v | (v << 4)) & 0x030c30c3
  return (v | (v << 2)) & 0x09249249
}

/** Numbers 0 to n - 1 by rising key (30 bits), by radix. */
function sortByKey(keys: Uint32Array): Uint32Array {
  let from = Uint32Array.from(keys, (_key, index) => index)
  let to = new Uint32Array(keys.length)
  for (let shift = 0; shift < 30; shift += 10) {
    const counts = new Uint32Array(1025)
    for (let at = 0; at < keys.length; at++) counts[((keys[at]! >>> shift) & 1023) + 1]!++
    for (let bin = 0; bin < 1024; bin++) counts[bin + 1]! += counts[bin]!
    for (let at = 0; at < from.length; at++) to[counts[(keys[from[at]!]! >>> shift) & 1023]!++] = from[at]!
    const swap = from
    from = to
    to = swap
  }
  return from
}

/** What `nearestOnTriangle` found: shares of the triangle's corners. */
const shares: [number, number, number] = [0, 0, 0]

/**
 * Shares of the corners of a triangle for the place on it nearest to (x, y, z), left in `shares` (C. Ericson, Real-Time
 * Collision Detection, 2005, section 5.1.5).
 *
 * @param a places of the corners' first coordinates in `points`.
 */
function nearestOnTriangle(
  points: Float64Array,
  a: number,
  b: number,
  c: number,
  x: number,
  y: number,
  z: number,
): void {
  const [ax, ay, az] = [points[a]!, points[a + 1]!, points[a + 2]!]
  const abx = points[b]! - ax
  const aby = points[b + 1]! - ay
  const abz = points[b + 2]! - az
  const acx = points[c]! - ax
  const acy = points[c + 1]! - ay
  const acz = points[c + 2]! - az
  const apx = x - ax
  const apy = y - ay
  const apz = z - az
  const d1 = abx * apx + aby * apy + abz * apz
  const d2 = acx * apx + acy * apy + acz * apz
  if (d1 <= 0 && d2 <= 0) return setShares(1, 0, 0)
  const bpx = x - points[b]!
  const bpy = y - points[b + 1]!
  const bpz = z - points[b + 2]!
  const d3 = abx * bpx + aby * bpy + abz * bpz
  const d4 = acx * bpx + acy * bpy + acz * bpz
  if (d3 >= 0 && d4 <= d3) return setShares(0, 1, 0)
  const vc = d1 * d4 - d3 * d2
  if (vc <= 0 && d1 >= 0 && d3 <= 0) {
    const share = d1 / (d1 - d3)
    return setShares(1 - share, share, 0)
  }
  const cpx = x - points[c]!
  const cpy = y - points[c + 1]!
  const cpz = z - points[c + 2]!
  const d5 = abx * cpx + aby * cpy + abz * cpz
  const d6 = acx * cpx + acy * cpy + acz * cpz
  if (d6 >= 0 && d5 <= d6) return setShares(0, 0, 1)
  const vb = d5 * d2 - d1 * d6
  if (vb <= 0 && d2 >= 0 && d6 <= 0) {
    const share = d2 / (d2 - d6)
    return setShares(1 - share, 0, share)
  }
  const va = d3 * d6 - d5 * d4
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    const share = (d4 - d3) / (d4 - d3 + (d5 - d6))
    return setShares(0, 1 - share, share)
  }
  const sum = va + vb + vc
  // of no area: any of its corners will do
  if (!(sum > 0)) return setShares(1, 0, 0)
  setShares(1 - vb / sum - vc / sum, vb / sum, vc / sum)
}

function setShares(first: number, second: number, third: number): void {
  shares[0] = first
  shares[1] = second
  shares[2] = third
}

/** A tree of boxes over triangles and polygons, sorted along a Morton curve of 10 bits an axis. */
export function buildBvh({ points, faceOffsets, faceVertices }: RayScene): Bvh {
  const faceCount = faceOffsets.length - 1
  const box = boundsOf(points)
  const keys = new Uint32Array(faceCount)
  const scale = box ? [0, 1, 2].map((axis) => 1023 / (box.max[axis]! - box.min[axis]! || 1)) : [1, 1, 1]
  for (let face = 0; face < faceCount; face++) {
    const point = 3 * faceVertices[faceOffsets[face]!]!
    keys[face] =
      (spread((points[point]! - box!.min[0]) * scale[0]!) << 2) |
      (spread((points[point + 1]! - box!.min[1]) * scale[1]!) << 1) |
      spread((points[point + 2]! - box!.min[2]) * scale[2]!)
  }
  const order = sortByKey(keys)
  const leafCount = Math.max(1, Math.ceil(faceCount / LEAF_FACES))
  // levels from the leaves up; node k of a level holds nodes 2k and 2k + 1 of the one below
  const levelStarts: number[] = [0]
  let total = leafCount
  for (let size = leafCount; size > 1;) {
    size = (size + 1) >> 1
    levelStarts.push(total)
    total += size
  }
  const boxes = new Float64Array(6 * total)
  for (let node = 0; node < total; node++) {
    boxes.fill(Infinity, 6 * node, 6 * node + 3)
    boxes.fill(-Infinity, 6 * node + 3, 6 * node + 6)
  }
  for (let place = 0; place < faceCount; place++) {
    const face = order[place]!
    const at = 6 * Math.floor(place / LEAF_FACES)
    for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++) {
      const point = 3 * faceVertices[corner]!
      for (let axis = 0; axis < 3; axis++) {
        const value = points[point + axis]!
        if (value < boxes[at + axis]!) boxes[at + axis] = value
        if (value > boxes[at + 3 + axis]!) boxes[at + 3 + axis] = value
      }
    }
  }
  const levelSizes = levelStarts.map((start, level) => (levelStarts[level + 1] ?? total) - start)
  for (let level = 1; level < levelStarts.length; level++)
    for (let node = 0; node < levelSizes[level]!; node++)
      for (let child = 2 * node; child < Math.min(2 * node + 2, levelSizes[level - 1]!); child++) {
        const from = 6 * (levelStarts[level - 1]! + child)
        const into = 6 * (levelStarts[level]! + node)
        for (let axis = 0; axis < 3; axis++) {
          if (boxes[from + axis]! < boxes[into + axis]!) boxes[into + axis] = boxes[from + axis]!
          if (boxes[from + 3 + axis]! > boxes[into + 3 + axis]!)
            boxes[into + 3 + axis] = boxes[from + 3 + axis]!
        }
      }
  const stackLevels = new Int32Array(128)
  const stackNodes = new Int32Array(128)
  /** Squares of the distances to the boxes of those that wait. */
  const stackAparts = new Float64Array(128)
  const top = levelStarts.length - 1

  // Möller and Trumbore 1997, over the polygon's fan
  function rayMeetsFace(
    face: number,
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
  ): boolean {
    const start = faceOffsets[face]!
    const a = 3 * faceVertices[start]!
    for (let corner = start + 1; corner + 1 < faceOffsets[face + 1]!; corner++) {
      const b = 3 * faceVertices[corner]!
      const c = 3 * faceVertices[corner + 1]!
      const e1x = points[b]! - points[a]!
      const e1y = points[b + 1]! - points[a + 1]!
      const e1z = points[b + 2]! - points[a + 2]!
      const e2x = points[c]! - points[a]!
      const e2y = points[c + 1]! - points[a + 1]!
      const e2z = points[c + 2]! - points[a + 2]!
      const px = dy * e2z - dz * e2y
      const py = dz * e2x - dx * e2z
      const pz = dx * e2y - dy * e2x
      const det = e1x * px + e1y * py + e1z * pz
      if (det === 0) continue
      const tx = ox - points[a]!
      const ty = oy - points[a + 1]!
      const tz = oz - points[a + 2]!
      const u = (tx * px + ty * py + tz * pz) / det
      if (u < 0 || u > 1) continue
      const qx = ty * e1z - tz * e1y
      const qy = tz * e1x - tx * e1z
      const qz = tx * e1y - ty * e1x
      const v = (dx * qx + dy * qy + dz * qz) / det
      if (v < 0 || u + v > 1) continue
      if ((e2x * qx + e2y * qy + e2z * qz) / det > 0) return true
    }
    return false
  }

  /** Square of the distance from a point to a node's box. */
  function boxApart(level: number, node: number, x: number, y: number, z: number): number {
    const at = 6 * (levelStarts[level]! + node)
    const dx = Math.max(boxes[at]! - x, 0, x - boxes[at + 3]!)
    const dy = Math.max(boxes[at + 1]! - y, 0, y - boxes[at + 4]!)
    const dz = Math.max(boxes[at + 2]! - z, 0, z - boxes[at + 5]!)
    return dx * dx + dy * dy + dz * dz
  }

  // the nearest place so far: a million are asked for, and what is looked at on the way makes nothing
  let nearestFace = -1
  let nearestCorner = -1
  let nearestSquare = Infinity
  const nearestShares = [0, 0, 0]
  const nearestPlace = [0, 0, 0]

  /** Takes the nearest place on a polygon, where that is nearer than the one before. */
  function lookAtFace(face: number, x: number, y: number, z: number): void {
    const start = faceOffsets[face]!
    const a = 3 * faceVertices[start]!
    for (let corner = start + 1; corner + 1 < faceOffsets[face + 1]!; corner++) {
      const b = 3 * faceVertices[corner]!
      const c = 3 * faceVertices[corner + 1]!
      nearestOnTriangle(points, a, b, c, x, y, z)
      const p = shares[0]
      const q = shares[1]
      const r = shares[2]
      const nx = p * points[a]! + q * points[b]! + r * points[c]!
      const ny = p * points[a + 1]! + q * points[b + 1]! + r * points[c + 1]!
      const nz = p * points[a + 2]! + q * points[b + 2]! + r * points[c + 2]!
      const apart = (nx - x) ** 2 + (ny - y) ** 2 + (nz - z) ** 2
      if (!(apart < nearestSquare)) continue
      nearestSquare = apart
      nearestFace = face
      nearestCorner = corner
      nearestShares[0] = p
      nearestShares[1] = q
      nearestShares[2] = r
      nearestPlace[0] = nx
      nearestPlace[1] = ny
      nearestPlace[2] = nz
    }
  }

  function forget(within: number): void {
    nearestFace = -1
    nearestSquare = within * within
  }

  const found = (): Nearest | null =>
    nearestFace < 0
      ? null
      : {
          face: nearestFace,
          corners: [faceOffsets[nearestFace]!, nearestCorner, nearestCorner + 1],
          shares: [nearestShares[0]!, nearestShares[1]!, nearestShares[2]!],
          point: [nearestPlace[0]!, nearestPlace[1]!, nearestPlace[2]!],
          distance: Math.sqrt(nearestSquare),
        }

  return {
    nearestOnFace(face, x, y, z) {
      forget(Infinity)
      lookAtFace(face, x, y, z)
      return found()
    },
    nearest(x, y, z, accept, within = Infinity) {
      forget(within)
      stackLevels[0] = top
      stackNodes[0] = 0
      stackAparts[0] = boxApart(top, 0, x, y, z)
      let depth = faceCount > 0 ? 1 : 0
      while (depth > 0) {
        depth--
        const level = stackLevels[depth]!
        const node = stackNodes[depth]!
        if (stackAparts[depth]! >= nearestSquare) continue
        if (level > 0) {
          const first = 2 * node
          const second = first + 1
          const both = second < levelSizes[level - 1]!
          const firstApart = boxApart(level - 1, first, x, y, z)
          const secondApart = both ? boxApart(level - 1, second, x, y, z) : Infinity
          const firstNearer = !both || firstApart <= secondApart
          // the nearer one is looked into first, so it is put on top
          if (both) {
            stackLevels[depth] = level - 1
            stackNodes[depth] = firstNearer ? second : first
            stackAparts[depth++] = firstNearer ? secondApart : firstApart
          }
          stackLevels[depth] = level - 1
          stackNodes[depth] = firstNearer ? first : second
          stackAparts[depth++] = firstNearer ? firstApart : secondApart
          continue
        }
        const end = Math.min((node + 1) * LEAF_FACES, faceCount)
        for (let place = node * LEAF_FACES; place < end; place++) {
          const face = order[place]!
          if (accept && !accept(face)) continue
          lookAtFace(face, x, y, z)
        }
      }
      return found()
    },
    firstHit(ox, oy, oz, dx, dy, dz, except, likely = -1) {
      if (likely >= 0 && likely !== except && rayMeetsFace(likely, ox, oy, oz, dx, dy, dz)) return likely
      const ix = 1 / dx
      const iy = 1 / dy
      const iz = 1 / dz
      let depth = 0
      stackLevels[0] = top
      stackNodes[0] = 0
      depth = 1
      while (depth > 0) {
        depth--
        const level = stackLevels[depth]!
        const node = stackNodes[depth]!
        const at = 6 * (levelStarts[level]! + node)
        let near = 0
        let far = Infinity
        const ax = (boxes[at]! - ox) * ix
        const bx = (boxes[at + 3]! - ox) * ix
        // a ray along a side of the box gives 0 times infinity; such a side decides nothing
        if (ax === ax && bx === bx) {
          near = Math.max(near, ax < bx ? ax : bx)
          far = ax < bx ? bx : ax
        }
        const ay = (boxes[at + 1]! - oy) * iy
        const by = (boxes[at + 4]! - oy) * iy
        if (ay === ay && by === by) {
          near = Math.max(near, ay < by ? ay : by)
          far = Math.min(far, ay < by ? by : ay)
        }
        const az = (boxes[at + 2]! - oz) * iz
        const bz = (boxes[at + 5]! - oz) * iz
        if (az === az && bz === bz) {
          near = Math.max(near, az < bz ? az : bz)
          far = Math.min(far, az < bz ? bz : az)
        }
        if (near > far * (1 + 1e-12)) continue
        if (level > 0) {
          const below = levelSizes[level - 1]!
          for (let child = 2 * node; child < 2 * node + 2 && child < below; child++) {
            stackLevels[depth] = level - 1
            stackNodes[depth++] = child
          }
          continue
        }
        const end = Math.min((node + 1) * LEAF_FACES, faceCount)
        for (let place = node * LEAF_FACES; place < end; place++) {
          const face = order[place]!
          if (face !== except && rayMeetsFace(face, ox, oy, oz, dx, dy, dz)) return face
        }
      }
      return -1
    },
  }
}
