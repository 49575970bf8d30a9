/** What is held in the flat view: chosen UVs that are moved, turned or scaled by hand, until they are let go. */
import { findIslands } from '../../core/uv/find-islands.ts'
import type { Mesh } from '../../core/scene/mesh.ts'
import type { HandPlacing } from './viewer-messages.ts'

export interface Chosen {
  readonly mesh: Mesh
  readonly element: 'points' | 'edges' | 'faces' | 'corners'
  readonly elements: Uint32Array
  /** Of the mesh's first set, as drawn. */
  readonly positions: Float32Array
}

/** UVs that move together, by their numbers, and the box around them. */
export interface Gripped {
  readonly parts: readonly {
    readonly positions: Float32Array
    readonly uvs: Uint32Array
    readonly isGripped: Uint8Array
  }[]
  readonly low: readonly [number, number]
  readonly high: readonly [number, number]
}

export function gripOf(chosen: readonly Chosen[], whole: boolean): Gripped | null {
  const byPositions = new Map<Float32Array, Set<number>>()
  for (const { mesh, element, elements, positions } of chosen) {
    const set = mesh.uvSets[0]
    if (!set) continue
    const uvs = byPositions.get(positions) ?? new Set<number>()
    byPositions.set(positions, uvs)
    const { faceOffsets, faceVertices } = mesh
    const isFace = new Uint8Array(faceOffsets.length - 1)
    const isPoint = new Set<number>()
    const isCorner = new Set<number>()
    if (element === 'faces') for (const face of elements) isFace[face] = 1
    else if (element === 'corners') for (const corner of elements) isCorner.add(corner)
    else for (const point of elements) isPoint.add(point)
    const takes = (face: number, corner: number): boolean =>
      isFace[face] === 1 || isCorner.has(corner) || isPoint.has(faceVertices[corner]!)
    const islands = whole ? findIslands(mesh, set) : null
    const isIsland = new Uint8Array(islands?.islandCount ?? 0)
    for (const pass of whole ? [0, 1] : [1])
      for (let face = 0; face + 1 < faceOffsets.length; face++) {
        const island = islands ? islands.faceIslands[face]! : -1
        for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++) {
          const isOwn = pass === 1 && islands ? island >= 0 && isIsland[island] === 1 : takes(face, corner)
          if (!isOwn) continue
          if (pass === 0) {
            if (island >= 0) isIsland[island] = 1
          } else if (set.indices[corner]! >= 0) uvs.add(set.indices[corner]!)
        }
      }
  }
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity]
  const parts = [...byPositions].map(([positions, numbers]) => {
    const isGripped = new Uint8Array(positions.length / 2)
    for (const uv of numbers) {
      isGripped[uv] = 1
      const [u, v] = [positions[2 * uv]!, positions[2 * uv + 1]!]
      if (!(Number.isFinite(u) && Number.isFinite(v))) continue
      u0 = Math.min(u0, u)
      u1 = Math.max(u1, u)
      v0 = Math.min(v0, v)
      v1 = Math.max(v1, v)
    }
    return { positions, uvs: Uint32Array.from(numbers), isGripped }
  })
  return u0 <= u1 ? { parts, low: [u0, v0], high: [u1, v1] } : null
}

export type Hold = 'move' | 'turn' | 'scale'

export const NOT_PLACED: HandPlacing = { moveU: 0, moveV: 0, turn: 0, scaleU: 1, scaleV: 1 }

/** UVs that others may snap to; more would hold the hand up. */
const MOST_SNAPPED = 200000

/** The nearest shift that puts an edge of the box on a tile's border or a held UV on one that stays; within `reach`. */
export function snapShift(
  grip: Gripped,
  others: readonly { positions: Float32Array; isGripped: Uint8Array | null }[],
  shift: readonly [number, number],
  reach: number,
): [number, number] {
  // points first: they settle both
  const cells = new Map<string, number[]>()
  let known = 0
  for (const { positions, isGripped } of others)
    for (let uv = 0; uv < positions.length / 2 && known < MOST_SNAPPED; uv++) {
      if (isGripped?.[uv]) continue
      const [u, v] = [positions[2 * uv]!, positions[2 * uv + 1]!]
      if (
        u < grip.low[0] + shift[0] - reach ||
        u > grip.high[0] + shift[0] + reach ||
        v < grip.low[1] + shift[1] - reach ||
        v > grip.high[1] + shift[1] + reach
      )
        continue
      known++
      const key = `${Math.floor(u / reach)} ${Math.floor(v / reach)}`
      const own = cells.get(key)
      if (own) own.push(u, v)
      else cells.set(key, [u, v])
    }
  let least = reach
  let found: [number, number] | null = null
  if (known > 0)
    for (const { positions, uvs } of grip.parts)
      for (const uv of uvs) {
        const [u, v] = [positions[2 * uv]! + shift[0], positions[2 * uv + 1]! + shift[1]]
        const [column, row] = [Math.floor(u / reach), Math.floor(v / reach)]
        for (let x = column - 1; x <= column + 1; x++)
          for (let y = row - 1; y <= row + 1; y++) {
            const near = cells.get(`${x} ${y}`)
            if (!near) continue
            for (let at = 0; at < near.length; at += 2) {
              const away = Math.hypot(near[at]! - u, near[at + 1]! - v)
              if (away >= least) continue
              least = away
              found = [shift[0] + near[at]! - u, shift[1] + near[at + 1]! - v]
            }
          }
      }
  if (found) return found
  return [0, 1].map((axis) => {
    let best: number = shift[axis]!
    let away = reach
    for (const edge of [grip.low[axis]!, grip.high[axis]!]) {
      const at = edge + shift[axis]!
      const off = Math.round(at) - at
      if (Math.abs(off) < away) {
        away = Math.abs(off)
        best = shift[axis]! + off
      }
    }
    return best
  }) as [number, number]
}

/** Degrees that a turn snaps to, and how near it has to come. */
const [TURN_STEP, TURN_REACH] = [15, 2]

/**
 * How what is held is placed by a drag.
 * @param from where it was taken, @param to where it is now, in UV; @param reach of snapping in UV, 0 for none.
 */
export function placingOf(
  grip: Gripped,
  hold: Hold,
  corner: readonly [number, number],
  from: readonly [number, number],
  to: readonly [number, number],
  others: Parameters<typeof snapShift>[1],
  reach: number,
): HandPlacing {
  const middle = [(grip.low[0] + grip.high[0]) / 2, (grip.low[1] + grip.high[1]) / 2] as const
  if (hold === 'move') {
    const shift = [to[0] - from[0], to[1] - from[1]] as const
    const [moveU, moveV] = reach > 0 ? snapShift(grip, others, shift, reach) : shift
    return { ...NOT_PLACED, moveU, moveV }
  }
  if (hold === 'turn') {
    const angleOf = (at: readonly [number, number]): number =>
      Math.atan2(at[1] - middle[1], at[0] - middle[0])
    let turn = ((angleOf(to) - angleOf(from)) * 180) / Math.PI
    turn -= 360 * Math.round(turn / 360)
    const even = TURN_STEP * Math.round(turn / TURN_STEP)
    return { ...NOT_PLACED, turn: reach > 0 && Math.abs(even - turn) < TURN_REACH ? even : turn }
  }
  // the corner across stays
  const across = [grip.low[0] + grip.high[0] - corner[0], grip.low[1] + grip.high[1] - corner[1]] as const
  const before = Math.hypot(corner[0] - across[0], corner[1] - across[1])
  const along =
    ((to[0] - across[0]) * (corner[0] - across[0]) + (to[1] - across[1]) * (corner[1] - across[1])) /
    (before || 1)
  const scale = Math.max(0.01, along / (before || 1))
  return {
    ...NOT_PLACED,
    scaleU: scale,
    scaleV: scale,
    moveU: (1 - scale) * (across[0] - middle[0]),
    moveV: (1 - scale) * (across[1] - middle[1]),
  }
}

/** Where a UV comes to lie; the same as `placeByHand` makes of it. */
export function placedAt(grip: Gripped, placing: HandPlacing, u: number, v: number): [number, number] {
  const [pu, pv] = [(grip.low[0] + grip.high[0]) / 2, (grip.low[1] + grip.high[1]) / 2]
  const [c, s] = [Math.cos((placing.turn * Math.PI) / 180), Math.sin((placing.turn * Math.PI) / 180)]
  const [du, dv] = [(u - pu) * placing.scaleU, (v - pv) * placing.scaleV]
  return [c * du - s * dv + pu + placing.moveU, s * du + c * dv + pv + placing.moveV]
}
