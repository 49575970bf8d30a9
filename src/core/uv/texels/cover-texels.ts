/** Which triangle each pixel of a map lies on. */

export interface TexelCover {
  /** Pixels on a side of the whole map; rows from the top, so that row 0 is the highest V. */
  readonly size: number
  /** The row of the map that the first of `owners` lies in: they may be some of its rows. */
  readonly firstRow: number
  /** size x rows: number of the triangle + 1; negative where only the pixel's border lies on it, 0 for none. */
  readonly owners: Int32Array
  /** Pixels whose middle lies on several triangles at once; the first of them has it. */
  readonly sharedCount: number
}

/** Some rows of a map, from the top. */
export interface TexelRows {
  readonly first: number
  readonly count: number
}

/** How far a pixel's middle may lie from a triangle that touches it: half of its diagonal. */
const REACH = Math.SQRT1_2
/** How far a middle may lie beyond a side and count as on it, in pixels: two triangles on one side leave no gap. */
const ON_SIDE = 1e-7

/**
 * @param uvs 6 x triangleCount, V up; the square from 0 to 1 is what the map shows, and what lies beyond is cut off.
 *   Triangles without an area, and such with a corner that is no number, own nothing.
 * @param rows those that are covered; null: all.
 * @param countsAsShared whether two triangles on one pixel are told; absent: always.
 */
export function coverTexels(
  uvs: ArrayLike<number>,
  size: number,
  rows: TexelRows | null = null,
  countsAsShared: (first: number, second: number) => boolean = () => true,
): TexelCover {
  const firstRow = rows?.first ?? 0
  const rowCount = rows?.count ?? size
  const owners = new Int32Array(size * rowCount)
  const triangleCount = Math.floor(uvs.length / 6)
  const isShared = new Uint8Array(owners.length)
  let sharedCount = 0
  // what lies within a triangle first, then what is left and touches one
  for (const isWithin of [true, false])
    for (let triangle = 0; triangle < triangleCount; triangle++) {
      const corners = texelCorners(uvs, triangle, size)
      const [ax, ay, bx, by, cx, cy] = corners
      const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
      // also false where a corner is no number
      if (!(Math.abs(area) > 0) || !Number.isFinite(area)) continue
      const turn = area > 0 ? 1 : -1
      const top = Math.max(firstRow, Math.floor(Math.min(ay, by, cy) - REACH))
      const bottom = Math.min(firstRow + rowCount - 1, Math.floor(Math.max(ay, by, cy) + REACH))
      const left = Math.max(0, Math.floor(Math.min(ax, bx, cx) - REACH))
      const right = Math.min(size - 1, Math.floor(Math.max(ax, bx, cx) + REACH))
      // distance inward from each side, along x and y; written out, since this runs for every pixel
      const [abX, abY, abAway] = side(ax, ay, bx, by, turn)
      const [bcX, bcY, bcAway] = side(bx, by, cx, cy, turn)
      const [caX, caY, caAway] = side(cx, cy, ax, ay, turn)
      for (let row = top; row <= bottom; row++) {
        const y = row + 0.5
        for (let column = left; column <= right; column++) {
          const at = (row - firstRow) * size + column
          const owner = owners[at]!
          if (!isWithin && owner !== 0) continue
          const x = column + 0.5
          const ab = abX * x + abY * y + abAway
          const bc = bcX * x + bcY * y + bcAway
          const ca = caX * x + caY * y + caAway
          const inside = ab < bc ? (ab < ca ? ab : ca) : bc < ca ? bc : ca
          if (!isWithin) {
            if (inside >= -REACH && distanceTo(corners, x, y) <= REACH) owners[at] = -(triangle + 1)
          } else if (inside >= -ON_SIDE) {
            if (owner === 0) owners[at] = triangle + 1
            else if (inside > ON_SIDE && !isShared[at] && countsAsShared(owner - 1, triangle)) {
              isShared[at] = 1
              sharedCount++
            }
          }
        }
      }
    }
  return { size, firstRow, owners, sharedCount }
}

/** A triangle's corners in pixels, x to the right and y down. */
export const texelCorners = (
  uvs: ArrayLike<number>,
  triangle: number,
  size: number,
): [number, number, number, number, number, number] => {
  const at = 6 * triangle
  return [
    uvs[at]! * size,
    (1 - uvs[at + 1]!) * size,
    uvs[at + 2]! * size,
    (1 - uvs[at + 3]!) * size,
    uvs[at + 4]! * size,
    (1 - uvs[at + 5]!) * size,
  ]
}

function side(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  turn: number,
): readonly [number, number, number] {
  const length = Math.hypot(bx - ax, by - ay)
  // a side of no length bounds nothing
  if (length === 0) return [0, 0, Infinity]
  const alongX = (-(by - ay) / length) * turn
  const alongY = ((bx - ax) / length) * turn
  return [alongX, alongY, -(alongX * ax + alongY * ay)]
}

/** The nearest place on a triangle to a place beside it. */
export function nearestOnTriangle(
  [ax, ay, bx, by, cx, cy]: readonly number[] & { length: 6 },
  x: number,
  y: number,
): [number, number] {
  let best: [number, number] = [ax!, ay!]
  let least = Infinity
  for (const [px, py, qx, qy] of [
    [ax!, ay!, bx!, by!],
    [bx!, by!, cx!, cy!],
    [cx!, cy!, ax!, ay!],
  ] as const) {
    const length = (qx - px) ** 2 + (qy - py) ** 2
    const share = length
      ? Math.max(0, Math.min(1, ((x - px) * (qx - px) + (y - py) * (qy - py)) / length))
      : 0
    const [nx, ny] = [px + share * (qx - px), py + share * (qy - py)]
    const distance = (nx - x) ** 2 + (ny - y) ** 2
    if (distance < least) {
      least = distance
      best = [nx, ny]
    }
  }
  return best
}

function distanceTo(corners: [number, number, number, number, number, number], x: number, y: number): number {
  const [nx, ny] = nearestOnTriangle(corners, x, y)
  return Math.hypot(nx - x, ny - y)
}
