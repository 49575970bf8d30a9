/** Where one body would lie over the others the least, wherever it may be in the tile. */
import type { Body } from './body.ts'

export interface Room {
  readonly u: number
  readonly v: number
  readonly angle: number
  /** As contacts measure it, of a few places and of cells: for comparing with others of the same body. */
  readonly cost: number
}

/** Cells of the tile's side. */
const SIDE = 96
/** So many cells from a place are near it. */
const NEAR = 6

/** Only near a place, or only away from one. */
export interface Where {
  readonly near?: readonly [number, number]
  readonly away?: readonly [number, number]
}

export interface RoomFinder {
  /** What each cell of the tile costs whoever comes there, but for one body. */
  readonly leaveOut: (body: number, at: Float64Array, scale: number) => void
  /** The least place of the body that was left out, under any of the angles; null where it is larger than the tile. */
  readonly find: (angles: readonly number[], scale: number, where?: Where) => Room | null
  readonly costAt: (u: number, v: number, angle: number, scale: number) => number
  /** Cells that were looked at so far. */
  readonly work: () => number
}

/** Rows or columns of a stretch that lie near a place, or all of it. */
function around(near: number | undefined, from: number, to: number): [number, number] {
  if (near === undefined) return [from, to]
  return [Math.max(from, Math.floor(near * SIDE) - NEAR), Math.min(to, Math.floor(near * SIDE) + NEAR + 1)]
}

/** @param room as of contacts. @param movingCount bodies from this on stay, in their own size. */
export function createRoomFinder(bodies: readonly Body[], room: number, movingCount: number): RoomFinder {
  const costs = new Float32Array(SIDE * SIDE)
  let body = bodies[0]!
  let work = 0
  return {
    work: () => work,
    leaveOut(left, at, scale) {
      body = bodies[left]!
      work += SIDE * SIDE
      for (let row = 0; row < SIDE; row++)
        for (let column = 0; column < SIDE; column++) {
          const [u, v] = [(column + 0.5) / SIDE, (row + 0.5) / SIDE]
          const over = room / 2 - Math.min(u, v, 1 - u, 1 - v)
          costs[row * SIDE + column] = over > 0 ? over * over : 0
        }
      bodies.forEach(({ field, reach }, other) => {
        if (other === left) return
        const { values, width, height, cell, low } = field
        const size = other < movingCount ? scale : 1
        const turn = at[3 * other + 2]! / reach
        const [c, s] = [Math.cos(turn), Math.sin(turn)]
        const [x, y] = [at[3 * other]!, at[3 * other + 1]!]
        const [halfU, halfV] = [((width - 1) * cell * size) / 2, ((height - 1) * cell * size) / 2]
        const reachU = Math.abs(c) * halfU + Math.abs(s) * halfV
        const reachV = Math.abs(s) * halfU + Math.abs(c) * halfV
        const lastColumn = Math.min(SIDE - 1, Math.ceil((x + reachU) * SIDE))
        const lastRow = Math.min(SIDE - 1, Math.ceil((y + reachV) * SIDE))
        for (let row = Math.max(0, Math.floor((y - reachV) * SIDE)); row <= lastRow; row++)
          for (let column = Math.max(0, Math.floor((x - reachU) * SIDE)); column <= lastColumn; column++) {
            const [rx, ry] = [(column + 0.5) / SIDE - x, (row + 0.5) / SIDE - y]
            const fx = Math.round(((c * rx + s * ry) / size - low[0]) / cell)
            const fy = Math.round(((c * ry - s * rx) / size - low[1]) / cell)
            if (!(fx >= 0 && fy >= 0 && fx < width && fy < height)) continue
            const depth = room - size * values[fy * width + fx]!
            if (depth > 0) costs[row * SIDE + column]! += depth * depth
          }
      })
    },
    find(angles, scale, where) {
      const { places } = body
      const count = places.length / 2
      /** How far its cells lie from that of its middle. */
      const own = new Int32Array(count)
      let best: Room | null = null
      let least = Infinity
      const [awayU, awayV] = (where?.away ?? [0, 0]).map((one) => Math.floor(one * SIDE)) as [number, number]
      for (const angle of angles) {
        const [c, s] = [Math.cos(angle) * scale * SIDE, Math.sin(angle) * scale * SIDE]
        let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity]
        for (let k = 0; k < count; k++) {
          const u = Math.round(c * places[2 * k]! - s * places[2 * k + 1]!)
          const v = Math.round(s * places[2 * k]! + c * places[2 * k + 1]!)
          own[k] = v * SIDE + u
          u0 = Math.min(u0, u)
          u1 = Math.max(u1, u)
          v0 = Math.min(v0, v)
          v1 = Math.max(v1, v)
        }
        const [fromRow, toRow] = around(where?.near?.[1], -v0, SIDE - v1)
        const [fromColumn, toColumn] = around(where?.near?.[0], -u0, SIDE - u1)
        for (let row = fromRow; row < toRow; row++)
          for (let column = fromColumn; column < toColumn; column++) {
            if (where?.away && Math.abs(column - awayU) < NEAR && Math.abs(row - awayV) < NEAR) continue
            const middle = row * SIDE + column
            let cost = 0
            let k = 0
            for (; k < count && cost < least; k++) cost += costs[middle + own[k]!]!
            work += k
            if (cost >= least) continue
            least = cost
            best = { u: (column + 0.5) / SIDE, v: (row + 0.5) / SIDE, angle, cost }
          }
      }
      return best
    },
    costAt(u, v, angle, scale) {
      const { places } = body
      const [c, s] = [Math.cos(angle) * scale, Math.sin(angle) * scale]
      const cellOf = (one: number): number => Math.min(SIDE - 1, Math.max(0, Math.floor(one * SIDE)))
      let cost = 0
      for (let k = 0; k < places.length; k += 2)
        cost +=
          costs[
            cellOf(s * places[k]! + c * places[k + 1]! + v) * SIDE +
              cellOf(c * places[k]! - s * places[k + 1]! + u)
          ]!
      return cost
    },
  }
}
