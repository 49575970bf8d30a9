/** UVs by projection, for what is no sculpture. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { UvSet } from '../../scene/mesh.ts'

export type Projection = 'x' | 'y' | 'z' | 'mean' | 'cylinder' | 'sphere' | 'box'

type Vector = readonly [number, number, number]

const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
]
const unit = (a: Vector): Vector => {
  const length = Math.hypot(...a)
  return length > 0 ? [a[0] / length, a[1] / length, a[2] / length] : [0, 0, 1]
}

/** Two directions across a third, the second as upright as it can be. */
function across(normal: Vector, up: Vector): [Vector, Vector] {
  let right = cross(up, normal)
  if (Math.hypot(...right) < 1e-6) right = cross(Math.abs(normal[0]) < 0.9 ? [1, 0, 0] : [0, 0, 1], normal)
  right = unit(right)
  return [right, cross(normal, right)]
}

/**
 * @param isOwn faceCount flags; null: all.
 * @param up the way up in the mesh's own space: the axis of a cylinder or ball.
 * @returns 2 x cornerCount coordinates, of planes in the model's unit, of the others as wide as their middle; NaN for
 * corners that take no part. The box's sides stand beside each other.
 */
export function projectFaces(
  facts: MeshFacts,
  isOwn: Uint8Array | null,
  kind: Projection,
  up: Vector,
): Float64Array {
  const { mesh, faceCount } = facts
  const points = facts.points()
  const normals = facts.faceNormals()
  const coordinates = new Float64Array(2 * mesh.faceVertices.length).fill(NaN)
  const axis = unit(up)
  const pointOf = (corner: number): Vector => {
    const at = 3 * mesh.faceVertices[corner]!
    return [points[at]!, points[at + 1]!, points[at + 2]!]
  }
  const own: number[] = []
  for (let face = 0; face < faceCount; face++) if (!isOwn || isOwn[face]) own.push(face)
  const normalOf = (face: number): Vector => [
    normals[3 * face]!,
    normals[3 * face + 1]!,
    normals[3 * face + 2]!,
  ]
  const plane = (face: number, normal: Vector, moveU = 0): void => {
    const [right, upward] = across(normal, axis)
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      coordinates[2 * corner] = dot(pointOf(corner), right) + moveU
      coordinates[2 * corner + 1] = dot(pointOf(corner), upward)
    }
  }
  if (kind === 'x' || kind === 'y' || kind === 'z' || kind === 'mean') {
    let normal: Vector = kind === 'x' ? [1, 0, 0] : kind === 'y' ? [0, 1, 0] : [0, 0, 1]
    if (kind === 'mean') {
      const sum: [number, number, number] = [0, 0, 0]
      for (const face of own) normalOf(face).forEach((value, at) => (sum[at]! += value))
      normal = unit(sum)
    }
    for (const face of own) plane(face, normal)
    return coordinates
  }
  if (kind === 'box') {
    const sides: Vector[] = [
      [1, 0, 0],
      [-1, 0, 0],
      [0, 1, 0],
      [0, -1, 0],
      [0, 0, 1],
      [0, 0, -1],
    ]
    const sideOf = (face: number): number => {
      const normal = normalOf(face)
      let best = 0
      for (let side = 1; side < 6; side++)
        if (dot(normal, sides[side]!) > dot(normal, sides[best]!) + 1e-12) best = side
      return best
    }
    // side by side, with a tenth of the model between
    const step = facts.diagonal() * 1.1
    for (const face of own) plane(face, sides[sideOf(face)]!, sideOf(face) * step)
    return coordinates
  }
  // about the middle of what takes part
  const middle: [number, number, number] = [0, 0, 0]
  let count = 0
  for (const face of own)
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++, count++)
      pointOf(corner).forEach((value, at) => (middle[at]! += value))
  if (count) for (let at = 0; at < 3; at++) middle[at]! /= count
  const [right, front] = across(axis, Math.abs(axis[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0])
  let [radius, corners] = [0, 0]
  const around = (corner: number): { angle: number; out: number; high: number } => {
    const [x, y, z] = pointOf(corner)
    const from: Vector = [x - middle[0], y - middle[1], z - middle[2]]
    const [a, b] = [dot(from, right), dot(from, front)]
    return { angle: Math.atan2(a, -b), out: Math.hypot(a, b), high: dot(from, axis) }
  }
  for (const face of own)
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++, corners++) {
      const { out, high } = around(corner)
      radius += kind === 'sphere' ? Math.hypot(out, high) : out
    }
  radius /= Math.max(1, corners)
  for (const face of own) {
    const [start, end] = [mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!]
    // where its middle is seen from the axis; its corners lie within half a turn of that
    let [c, s] = [0, 0]
    for (let corner = start; corner < end; corner++) {
      const { angle, out } = around(corner)
      c += out * Math.cos(angle)
      s += out * Math.sin(angle)
    }
    const mid = Math.atan2(s, c)
    for (let corner = start; corner < end; corner++) {
      const { angle: raw, out, high } = around(corner)
      // on the axis every angle is as good
      const angle = out > 1e-9 * radius ? raw : mid
      const own = angle + 2 * Math.PI * Math.round((mid - angle) / (2 * Math.PI))
      coordinates[2 * corner] = own * radius
      coordinates[2 * corner + 1] = kind === 'sphere' ? Math.atan2(high, out) * radius : high
    }
  }
  return coordinates
}

/** Corners that have the same UV at the same point share one. @param coordinates 2 x cornerCount, NaN: as in `before`. */
export function setFromCorners(
  faceVertices: Uint32Array,
  before: UvSet | null,
  name: string,
  coordinates: Float64Array,
): UvSet {
  const values: number[] = []
  const known = new Map<string, number>()
  const indices = Int32Array.from(faceVertices, (point, corner) => {
    let [u, v] = [coordinates[2 * corner]!, coordinates[2 * corner + 1]!]
    if (Number.isNaN(u)) {
      const uv = before?.indices[corner] ?? -1
      if (uv < 0) return -1
      ;[u, v] = [before!.values[2 * uv]!, before!.values[2 * uv + 1]!]
    }
    const key = `${point} ${u} ${v}`
    let number = known.get(key)
    if (number === undefined) {
      known.set(key, (number = values.length / 2))
      values.push(u, v)
    }
    return number
  })
  return { name, values: Float64Array.from(values), indices, depths: null }
}
