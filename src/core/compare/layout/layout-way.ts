/** What a tool does to a whole layout of UVs: turned over or by quarters, another size, elsewhere. */
import { readableNumber } from '../../base/messages/render.ts'

/** A new U is `factor` (`uu` U + `uv` V) + `shift[0]`, a new V `factor` (`vu` U + `vv` V) + `shift[1]`. */
export interface LayoutWay {
  readonly turn: LayoutTurn
  readonly factor: number
  readonly shift: readonly [number, number]
}

/** One of the eight ways in which a tile lies on itself. */
export interface LayoutTurn {
  readonly uu: number
  readonly uv: number
  readonly vu: number
  readonly vv: number
  readonly text: string
}

/** What assumes least first. */
export const LAYOUT_TURNS: readonly LayoutTurn[] = [
  { uu: 1, uv: 0, vu: 0, vv: 1, text: '' },
  { uu: 1, uv: 0, vu: 0, vv: -1, text: 'upside down' },
  { uu: -1, uv: 0, vu: 0, vv: 1, text: 'mirrored along U' },
  { uu: -1, uv: 0, vu: 0, vv: -1, text: 'turned by half' },
  { uu: 0, uv: -1, vu: 1, vv: 0, text: 'turned by a quarter to the left' },
  { uu: 0, uv: 1, vu: -1, vv: 0, text: 'turned by a quarter to the right' },
  { uu: 0, uv: 1, vu: 1, vv: 0, text: 'with U and V exchanged' },
  { uu: 0, uv: -1, vu: -1, vv: 0, text: 'with U and V exchanged, turned by half' },
]

export const turnedU = ({ uv, uu }: LayoutTurn, u: number, v: number): number => uu * u + uv * v
export const turnedV = ({ vu, vv }: LayoutTurn, u: number, v: number): number => vu * u + vv * v

/** Where the tile lies on itself. */
export const tileShift = ({ uu, uv, vu, vv }: LayoutTurn, factor: number): readonly [number, number] => [
  uu + uv < 0 ? factor : 0,
  vu + vv < 0 ? factor : 0,
]

/** The size of a layout that is meant: what came through single precision is a little off. */
const MEANT = 1e-6
export function meantFactor(factor: number): number {
  if (Math.abs(factor - Math.round(factor)) < MEANT * factor) return Math.round(factor)
  const parts = Math.round(1 / factor)
  return Math.abs(factor * parts - 1) < MEANT ? 1 / parts : factor
}

/** The way back. */
export function invertWay({ turn, factor, shift }: LayoutWay): LayoutWay {
  const back = LAYOUT_TURNS.find(
    ({ uu, uv, vu, vv }) => uu === turn.uu && uv === turn.vu && vu === turn.uv && vv === turn.vv,
  )!
  const inverse = 1 / factor
  return {
    turn: back,
    factor: inverse,
    shift: [-inverse * turnedU(back, ...shift), -inverse * turnedV(back, ...shift)],
  }
}

/** A UV along a way. */
export const alongU = ({ turn, factor, shift }: LayoutWay, u: number, v: number): number =>
  factor * turnedU(turn, u, v) + shift[0]
export const alongV = ({ turn, factor, shift }: LayoutWay, u: number, v: number): number =>
  factor * turnedV(turn, u, v) + shift[1]

/** UVs along a way. @param values 2 x UV count, in tiles. */
export function alongWay(values: Float64Array, way: LayoutWay): Float64Array {
  const found = new Float64Array(values.length)
  for (let at = 0; at < values.length; at += 2) {
    found[at] = alongU(way, values[at]!, values[at + 1]!)
    found[at + 1] = alongV(way, values[at]!, values[at + 1]!)
  }
  return found
}

/** Shifts of less are what rounding leaves, in tiles. */
const NO_SHIFT = 1e-5

/** What was done to a layout, as the rest of a sentence that begins with “the layout is”; empty where nothing was. */
export function wayText({ turn, factor, shift }: LayoutWay): string {
  const tile = tileShift(turn, factor)
  const moved = shift.map((one, axis) => one - tile[axis]!)
  const signed = (one: number): string => `${one < 0 ? '−' : ''}${readableNumber(Math.abs(one))}`
  const along = moved.flatMap((one, axis) =>
    Math.abs(one) > NO_SHIFT * Math.max(1, factor) ? [`${signed(one)} along ${'UV'[axis]}`] : [],
  )
  return [
    turn.text,
    factor === 1 ? '' : `${readableNumber(Number(factor.toPrecision(4)))} times as large`,
    along.length ? `moved by ${along.join(' and ')}` : '',
  ]
    .filter(Boolean)
    .join(', ')
}
