/** The hierarchy, with every element that moves a node. Source: COLLADA 1.4.1, “node” and its transformation elements. */
import { multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import { IDENTITY_MATRIX } from '../../scene/scene.ts'
import type { ColladaDocument } from './document.ts'
import { shortNumbers, type XmlElement } from './xml.ts'

const RADIANS = Math.PI / 180

/** A turn about an axis, in degrees. */
function rotation([x, y, z, degrees]: readonly number[]): number[] {
  const length = Math.hypot(x!, y!, z!)
  if (!(length > 0)) return [...IDENTITY_MATRIX]
  const [ax, ay, az] = [x! / length, y! / length, z! / length]
  // quarter turns are exact
  const quarter = degrees! / 90
  const isQuarter = Number.isInteger(quarter)
  const s = isQuarter ? [0, 1, 0, -1][((quarter % 4) + 4) % 4]! : Math.sin(degrees! * RADIANS)
  const c = isQuarter ? [1, 0, -1, 0][((quarter % 4) + 4) % 4]! : Math.cos(degrees! * RADIANS)
  const t = 1 - c
  return [
    t * ax * ax + c,
    t * ax * ay + s * az,
    t * ax * az - s * ay,
    0,
    t * ax * ay - s * az,
    t * ay * ay + c,
    t * ay * az + s * ax,
    0,
    t * ax * az + s * ay,
    t * ay * az - s * ax,
    t * az * az + c,
    0,
    0,
    0,
    0,
    1,
  ].map((value) => value + 0)
}

/** Where a node stands that looks from one place to another. */
function lookAt([ex, ey, ez, tx, ty, tz, ux, uy, uz]: readonly number[]): number[] {
  const unit = (v: readonly number[]): number[] => {
    const length = Math.hypot(...v) || 1
    return v.map((value) => value / length)
  }
  const cross = (a: readonly number[], b: readonly number[]): number[] => [
    a[1]! * b[2]! - a[2]! * b[1]!,
    a[2]! * b[0]! - a[0]! * b[2]!,
    a[0]! * b[1]! - a[1]! * b[0]!,
  ]
  const back = unit([ex! - tx!, ey! - ty!, ez! - tz!])
  const right = unit(cross([ux!, uy!, uz!], back))
  const up = cross(back, right)
  return [...right, 0, ...up, 0, ...back, 0, ex!, ey!, ez!, 1]
}

/** A shear: an angle in degrees, the axis that is turned, the axis along which it moves. */
function skew([angle, ax, ay, az, bx, by, bz]: readonly number[]): number[] {
  const along = [bx!, by!, bz!]
  const turned = [ax!, ay!, az!]
  const length = Math.hypot(...along) || 1
  const n2 = along.map((value) => value / length)
  const dot = turned[0]! * n2[0]! + turned[1]! * n2[1]! + turned[2]! * n2[2]!
  const a1 = n2.map((value) => value * dot)
  const a2 = turned.map((value, at) => value - a1[at]!)
  const size = Math.hypot(...a2) || 1
  const n1 = a2.map((value) => value / size)
  const an1 = turned[0]! * n1[0]! + turned[1]! * n1[1]! + turned[2]! * n1[2]!
  const an2 = dot
  const rx = an1 * Math.cos(angle! * RADIANS) - an2 * Math.sin(angle! * RADIANS)
  const ry = an1 * Math.sin(angle! * RADIANS) + an2 * Math.cos(angle! * RADIANS)
  const alpha = an1 === 0 || rx <= 0 ? 0 : ry / rx - an2 / an1
  const matrix = [...IDENTITY_MATRIX]
  for (let column = 0; column < 3; column++)
    for (let row = 0; row < 3; row++) matrix[4 * column + row]! += alpha * n1[column]! * n2[row]!
  return matrix
}

/** The matrix of a node: its elements one after the other, in the order that they stand in. */
export function localOf(node: XmlElement, { messages }: ColladaDocument): readonly number[] {
  let local: Matrix = IDENTITY_MATRIX
  let isMoved = false
  const wanted: Readonly<Record<string, number>> = {
    matrix: 16,
    translate: 3,
    rotate: 4,
    scale: 3,
    lookat: 9,
    skew: 7,
  }
  for (const element of node.children) {
    const width = wanted[element.name]
    if (width === undefined) continue
    const n = shortNumbers(element)
    if (n.length < width) {
      messages.add('collada.part', {
        place: `What moves “${node.attributes.name ?? node.attributes.id ?? ''}” (${element.name})`,
        why: `it has ${n.length} numbers of ${width}`,
      })
      continue
    }
    const next =
      element.name === 'matrix'
        ? Array.from({ length: 16 }, (_none, at) => n[4 * (at % 4) + Math.floor(at / 4)]!)
        : element.name === 'translate'
          ? [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, n[0]!, n[1]!, n[2]!, 1]
          : element.name === 'scale'
            ? [n[0]!, 0, 0, 0, 0, n[1]!, 0, 0, 0, 0, n[2]!, 0, 0, 0, 0, 1]
            : element.name === 'rotate'
              ? rotation(n)
              : element.name === 'lookat'
                ? lookAt(n)
                : skew(n)
    // a matrix alone keeps its numbers to the last bit
    local = isMoved ? multiplyMatrices(local, next) : next
    isMoved = true
  }
  return local
}
