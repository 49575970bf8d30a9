/** Places of prims by their stacks of operations. Source: OpenUSD, UsdGeomXformOp and UsdGeomXformable. */
import { invertAffine, multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'
import type { StagePrim } from './compose.ts'
import type { UsdProperty, UsdValue } from './layer.ts'

/** What a property says where nothing moves: its own value, else the earliest of its samples. */
export function valueOf(property: UsdProperty | undefined): UsdValue | undefined {
  if (!property) return undefined
  if (property.value !== undefined && property.value !== null) return property.value
  return property.samples?.values.find((value) => value !== null)
}

export const numbersIn = (prim: StagePrim, name: string): Float64Array | null => {
  const value = valueOf(prim.properties.get(name))
  if (value instanceof Float64Array) return value
  return typeof value === 'number' ? Float64Array.of(value) : null
}
export const textIn = (prim: StagePrim, name: string): string => {
  const value = valueOf(prim.properties.get(name))
  return typeof value === 'string' ? value : ''
}
export const textsIn = (prim: StagePrim, name: string): readonly string[] => {
  const value = valueOf(prim.properties.get(name))
  return Array.isArray(value) ? (value as readonly string[]) : []
}

const INVERTED = '!invert!'
const RESET = '!resetXformStack!'

/** Rotation about an axis by degrees; quarter turns are exact. Column-major. */
function turnAbout(axis: 0 | 1 | 2, degrees: number): Matrix {
  const quarter = ((degrees / 90) % 4) + (degrees < 0 ? 4 : 0)
  const exact = Number.isInteger(quarter)
  const cosine = exact ? [1, 0, -1, 0][quarter % 4]! : Math.cos((degrees * Math.PI) / 180)
  const sine = exact ? [0, 1, 0, -1][quarter % 4]! : Math.sin((degrees * Math.PI) / 180)
  const matrix = [...IDENTITY_MATRIX]
  const [a, b] = [
    [1, 2],
    [2, 0],
    [0, 1],
  ][axis] as [number, number]
  matrix[5 * a] = cosine
  matrix[5 * b] = cosine
  matrix[4 * a + b] = sine
  matrix[4 * b + a] = -sine
  return matrix
}

/** @param turn w, x, y, z. */
export function matrixOfTurn(turn: ArrayLike<number>): Matrix {
  const length = Math.hypot(turn[0]!, turn[1]!, turn[2]!, turn[3]!) || 1
  const [w, x, y, z] = [0, 1, 2, 3].map((at) => turn[at]! / length) as [number, number, number, number]
  return [
    1 - 2 * (y * y + z * z),
    2 * (x * y + z * w),
    2 * (x * z - y * w),
    0,
    2 * (x * y - z * w),
    1 - 2 * (x * x + z * z),
    2 * (y * z + x * w),
    0,
    2 * (x * z + y * w),
    2 * (y * z - x * w),
    1 - 2 * (x * x + y * y),
    0,
    0,
    0,
    0,
    1,
  ]
}

const placed = (x: number, y: number, z: number): Matrix => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1]
const sized = (x: number, y: number, z: number): Matrix => [x, 0, 0, 0, 0, y, 0, 0, 0, 0, z, 0, 0, 0, 0, 1]

/** The matrix of one operation by its kind; null for a kind that is none. */
function operation(kind: string, value: UsdValue | undefined): Matrix | null {
  const numbers = typeof value === 'number' ? [value] : value instanceof Float64Array ? [...value] : null
  if (!numbers || numbers.some((one) => !Number.isFinite(one))) return null
  const [x = 0, y = 0, z = 0] = numbers
  if (kind === 'translate') return placed(x, y, z)
  if (kind === 'translateX') return placed(x, 0, 0)
  if (kind === 'translateY') return placed(0, x, 0)
  if (kind === 'translateZ') return placed(0, 0, x)
  if (kind === 'scale') return numbers.length === 1 ? sized(x, x, x) : sized(x, y, z)
  if (kind === 'scaleX') return sized(x, 1, 1)
  if (kind === 'scaleY') return sized(1, x, 1)
  if (kind === 'scaleZ') return sized(1, 1, x)
  if (kind === 'orient') return numbers.length === 4 ? matrixOfTurn(numbers) : null
  if (kind === 'transform') return numbers.length === 16 ? numbers : null
  const order = /^rotate([XYZ]{1,3})$/.exec(kind)?.[1]
  if (!order) return null
  if (order.length === 1) return turnAbout('XYZ'.indexOf(order) as 0 | 1 | 2, x)
  // the first letter is turned about first, and so stands last in the product
  return [...order].reduce<Matrix>((held, letter) => {
    const axis = 'XYZ'.indexOf(letter) as 0 | 1 | 2
    return multiplyMatrices(turnAbout(axis, numbers[axis]!), held)
  }, IDENTITY_MATRIX)
}

export interface ReadPlace {
  /** Column-major, in the parent’s space, or in the world’s where it goes by that. */
  readonly local: readonly number[]
  readonly isOfWorld: boolean
  /** Names of operations that mean nothing. */
  readonly unknown: readonly string[]
}

/** @param read what a property says; the stack may be one that was written down before. */
export function placeBy(order: readonly string[], read: (name: string) => UsdValue | undefined): ReadPlace {
  let local: Matrix = IDENTITY_MATRIX
  let isOfWorld = false
  const unknown: string[] = []
  for (const word of order) {
    if (word === RESET) {
      isOfWorld = true
      local = IDENTITY_MATRIX
      continue
    }
    const isInverted = word.startsWith(INVERTED)
    const name = isInverted ? word.slice(INVERTED.length) : word
    const kind = name.split(':')[1] ?? ''
    const own = operation(kind, read(name))
    const matrix = own && isInverted ? invertAffine(own) : own
    if (matrix) local = multiplyMatrices(local, matrix)
    else unknown.push(name)
  }
  return { local, isOfWorld, unknown }
}

export const readPlace = (prim: StagePrim): ReadPlace =>
  placeBy(textsIn(prim, 'xformOpOrder'), (name) => valueOf(prim.properties.get(name)))
