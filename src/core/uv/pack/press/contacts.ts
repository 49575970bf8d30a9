/** How much bodies in a tile lie over each other and over its border, and which way is out. */
import { RUN, type Body } from './body.ts'
import { READ, readBySides } from './distance-field.ts'

export interface Contacts {
  /**
   * The sum, over all border points, of the squares of how much closer they lie to another body or the tile's border than they
   * may, and its slope.
   *
   * @param at 3 x body count: the middle in the tile, and the turn times the body's reach. @param scale of the bodies, but for
   * those that stay. @param slope as many; 0 for what does not move.
   */
  readonly measure: (at: Float64Array, scale: number, slope: Float64Array) => number
  /** What each body had of it when it was measured last; what two have of each other counts for both. */
  readonly own: Float64Array
  /** How much too close any point was then. */
  readonly worst: () => number
  /** Points that were moved so far. */
  readonly work: () => number
}

/** What each measuring and each body cost besides its points, in points. */
const OVERHEAD = 60

export interface ContactOptions {
  /** How far two have to be apart, in tiles; half of it from the tile's border. */
  readonly room: number
  readonly mayTurn: (body: number) => boolean
  /** Bodies from this on stay as they are, in their own size. */
  readonly movingCount: number
}

export function createContacts(bodies: readonly Body[], options: ContactOptions): Contacts {
  const { room, movingCount } = options
  const count = bodies.length
  const own = new Float64Array(count)
  const boxes = new Float64Array(4 * count)
  const laid = bodies.map(({ border }) => new Float64Array(border.length))
  const runs = bodies.map((body) => new Float64Array((body.runs.length / 3) * 2))
  const turns = Uint8Array.from({ length: movingCount }, (_, body) => (options.mayTurn(body) ? 1 : 0))
  const pointCount = bodies.reduce((sum, { border }) => sum + border.length / 2, 0)
  let worst = 0
  let work = 0

  const lay = (body: number, at: Float64Array, scale: number): void => {
    const { border, reach, runs: ownRuns } = bodies[body]!
    const size = body < movingCount ? scale : 1
    const turn = at[3 * body + 2]! / reach
    const [c, s] = [Math.cos(turn) * size, Math.sin(turn) * size]
    const [x, y] = [at[3 * body]!, at[3 * body + 1]!]
    const points = laid[body]!
    let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity]
    for (let k = 0; k < points.length; k += 2) {
      const u = c * border[k]! - s * border[k + 1]! + x
      const v = s * border[k]! + c * border[k + 1]! + y
      points[k] = u
      points[k + 1] = v
      if (u < u0) u0 = u
      if (u > u1) u1 = u
      if (v < v0) v0 = v
      if (v > v1) v1 = v
    }
    boxes[4 * body] = u0
    boxes[4 * body + 1] = v0
    boxes[4 * body + 2] = u1
    boxes[4 * body + 3] = v1
    const middles = runs[body]!
    for (let run = 0; 2 * run < middles.length; run++) {
      middles[2 * run] = c * ownRuns[3 * run]! - s * ownRuns[3 * run + 1]! + x
      middles[2 * run + 1] = s * ownRuns[3 * run]! + c * ownRuns[3 * run + 1]! + y
    }
  }

  const overBorder = (body: number, at: Float64Array, slope: Float64Array): number => {
    const [low, high] = [room / 2, 1 - room / 2]
    if (
      boxes[4 * body]! >= low &&
      boxes[4 * body + 1]! >= low &&
      boxes[4 * body + 2]! <= high &&
      boxes[4 * body + 3]! <= high
    )
      return 0
    const points = laid[body]!
    let sum = 0
    for (let k = 0; k < points.length; k += 2) {
      const [u, v] = [points[k]!, points[k + 1]!]
      const du = u < low ? u - low : u > high ? u - high : 0
      const dv = v < low ? v - low : v > high ? v - high : 0
      if (du === 0 && dv === 0) continue
      sum += du * du + dv * dv
      worst = Math.max(worst, Math.abs(du), Math.abs(dv))
      slope[3 * body]! += 2 * du
      slope[3 * body + 1]! += 2 * dv
      slope[3 * body + 2]! +=
        (2 * (dv * (u - at[3 * body]!) - du * (v - at[3 * body + 1]!))) / bodies[body]!.reach
    }
    own[body]! += sum
    return sum
  }

  /** Border points of one body that come too close to another, or lie within it. */
  const overBody = (
    one: number,
    other: number,
    at: Float64Array,
    scale: number,
    slope: Float64Array,
  ): number => {
    const { field, reach } = bodies[other]!
    const { values, width, height, cell, low } = field
    const size = other < movingCount ? scale : 1
    const turn = at[3 * other + 2]! / reach
    const c = Math.cos(turn)
    const s = Math.sin(turn)
    const x = at[3 * other]!
    const y = at[3 * other + 1]!
    const u0 = boxes[4 * other]! - room
    const v0 = boxes[4 * other + 1]! - room
    const u1 = boxes[4 * other + 2]! + room
    const v1 = boxes[4 * other + 3]! + room
    const points = laid[one]!
    const middles = runs[one]!
    const reaches = bodies[one]!.runs
    const ownSize = one < movingCount ? scale : 1
    const ownReach = bodies[one]!.reach
    const ownX = at[3 * one]!
    const ownY = at[3 * one + 1]!
    const toCells = 1 / (size * cell)
    const lowX = low[0] / cell
    const lowY = low[1] / cell
    const felt = room / size + cell * 0.7
    let sum = 0
    for (let run = 0; 2 * run < middles.length; run++) {
      const mx = middles[2 * run]! - x
      const my = middles[2 * run + 1]! - y
      const far = (reaches[3 * run + 2]! * ownSize + room) * toCells
      const runX = (c * mx + s * my) * toCells - lowX
      const runY = (c * my - s * mx) * toCells - lowY
      // a distance grows by no more than one goes: what is far off as a whole is not looked at
      if (runX < -far || runY < -far || runX > width - 1 + far || runY > height - 1 + far) continue
      if (runX >= 0 && runY >= 0 && runX < width && runY < height)
        if (values[(runY | 0) * width + (runX | 0)]! > (far + 1.5) * cell) continue
      const end = Math.min(points.length, 2 * RUN * (run + 1))
      for (let k = 2 * RUN * run; k < end; k += 2) {
        const u = points[k]!
        const v = points[k + 1]!
        if (u < u0 || u > u1 || v < v0 || v > v1) continue
        const rx = u - x
        const ry = v - y
        const fx = (c * rx + s * ry) * toCells - lowX
        const fy = (c * ry - s * rx) * toCells - lowY
        if (!(fx >= 0 && fy >= 0 && fx < width - 1 && fy < height - 1)) continue
        const column = fx | 0
        const row = fy | 0
        const tx = fx - column
        const ty = fy - row
        const from = row * width + column
        const a = values[from]!
        const b = values[from + 1]!
        const d = values[from + width]!
        const e = values[from + width + 1]!
        let distance = (a * (1 - tx) + b * tx) * (1 - ty) + (d * (1 - tx) + e * tx) * ty
        if (distance > felt) continue
        let gx = 0
        let gy = 0
        if (distance > -cell) {
          // near the border by its sides themselves: a field knows nothing of what is thinner than its cells
          readBySides(field, from, (fx + lowX) * cell, (fy + lowY) * cell)
          distance = READ[0]!
          gx = READ[1]!
          gy = READ[2]!
        } else {
          gx = ((b - a) * (1 - ty) + (e - d) * ty) / cell
          gy = ((d - a) * (1 - tx) + (e - b) * tx) / cell
        }
        const depth = room - size * distance
        if (depth <= 0) continue
        sum += depth * depth
        if (depth > worst) worst = depth
        const du = -2 * depth * (c * gx - s * gy)
        const dv = -2 * depth * (s * gx + c * gy)
        slope[3 * one]! += du
        slope[3 * one + 1]! += dv
        slope[3 * one + 2]! += (dv * (u - ownX) - du * (v - ownY)) / ownReach
        slope[3 * other]! -= du
        slope[3 * other + 1]! -= dv
        slope[3 * other + 2]! -= (dv * rx - du * ry) / reach
      }
    }
    own[one]! += sum
    own[other]! += sum
    return sum
  }

  return {
    own,
    worst: () => worst,
    work: () => work,
    measure(at, scale, slope) {
      slope.fill(0)
      own.fill(0)
      worst = 0
      work += pointCount + OVERHEAD * (1 + count)
      let sum = 0
      for (let body = 0; body < count; body++) lay(body, at, scale)
      for (let body = 0; body < movingCount; body++) sum += overBorder(body, at, slope)
      for (let one = 0; one < count; one++)
        for (let other = one + 1; other < count; other++) {
          if (one >= movingCount) break
          if (
            boxes[4 * one]! - room > boxes[4 * other + 2]! ||
            boxes[4 * one + 2]! + room < boxes[4 * other]! ||
            boxes[4 * one + 1]! - room > boxes[4 * other + 3]! ||
            boxes[4 * one + 3]! + room < boxes[4 * other + 1]!
          )
            continue
          sum += overBody(one, other, at, scale, slope) + overBody(other, one, at, scale, slope)
        }
      for (let body = 0; body < movingCount; body++) if (!turns[body]) slope[3 * body + 2] = 0
      slope.fill(0, 3 * movingCount)
      return sum
    },
  }
}
