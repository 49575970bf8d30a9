/** UVs turned, scaled, mirrored, moved and lined up by figures. */
import { flatBoundsOf } from '../../base/math/box.ts'

export type Pivot = 'all' | 'each' | 'tile'
export type Alignment = 'none' | 'left' | 'right' | 'bottom' | 'top' | 'middleU' | 'middleV'

export interface HandMove {
  readonly mirror: 'none' | 'u' | 'v'
  readonly scaleU: number
  readonly scaleV: number
  /** Radians, from u towards v. */
  readonly turn: number
  /** What is turned and scaled about: the middle of the box around all, of each one's own, or of the tile. */
  readonly about: Pivot
  readonly align: Alignment
  /** Tiles. */
  readonly moveU: number
  readonly moveV: number
}

interface Box {
  readonly low: readonly [number, number]
  readonly high: readonly [number, number]
}

function boxOf(all: readonly Float64Array[]): Box {
  const [u0, v0, u1, v1] = flatBoundsOf(all)
  return { low: [u0, v0], high: [u1, v1] }
}

const middleOf = ({ low, high }: Box): [number, number] => [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2]

/**
 * @param things UVs of each thing that moves as one, u and v by turns.
 * @returns the same, mirrored, scaled, turned, then lined up with the box around all of them, then moved.
 */
export function placeByHand(things: readonly Float64Array[], move: HandMove): Float64Array[] {
  const common = middleOf(boxOf(things))
  const [c, s] = [Math.cos(move.turn), Math.sin(move.turn)]
  const sizeU = move.scaleU * (move.mirror === 'u' ? -1 : 1)
  const sizeV = move.scaleV * (move.mirror === 'v' ? -1 : 1)
  const turned = things.map((flat) => {
    const own = move.about === 'each' ? middleOf(boxOf([flat])) : common
    // the tile that the middle lies in
    const [pu, pv] = move.about === 'tile' ? [Math.floor(own[0]) + 0.5, Math.floor(own[1]) + 0.5] : own
    const placed = new Float64Array(flat.length)
    for (let at = 0; at < flat.length; at += 2) {
      const [u, v] = [(flat[at]! - pu) * sizeU, (flat[at + 1]! - pv) * sizeV]
      placed[at] = c * u - s * v + pu
      placed[at + 1] = s * u + c * v + pv
    }
    return placed
  })
  const around = boxOf(turned)
  return turned.map((flat) => {
    const [du, dv] = shiftTo(move.align, boxOf([flat]), around)
    return flat.map((value, at) => value + (at % 2 ? dv + move.moveV : du + move.moveU))
  })
}

function shiftTo(align: Alignment, own: Box, around: Box): [number, number] {
  switch (align) {
    case 'none':
      return [0, 0]
    case 'left':
      return [around.low[0] - own.low[0], 0]
    case 'right':
      return [around.high[0] - own.high[0], 0]
    case 'bottom':
      return [0, around.low[1] - own.low[1]]
    case 'top':
      return [0, around.high[1] - own.high[1]]
    case 'middleU':
      return [middleOf(around)[0] - middleOf(own)[0], 0]
    case 'middleV':
      return [0, middleOf(around)[1] - middleOf(own)[1]]
  }
}
