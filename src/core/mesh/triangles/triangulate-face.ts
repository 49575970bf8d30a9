/** One polygon as triangles. */
import earcut from 'earcut'
import type { Mesh } from '../../scene/mesh.ts'

/** Up to here ear clipping is quick, whatever the polygon. */
const FEW_CORNERS = 48
/**
 * A polygon that does not cross itself turns once. Ear clipping takes with the third power of the corners on one that
 * turns many times, and what it gives means nothing then.
 */
const MANY_TURNS = 3

/** How many times a flat polygon turns round on its way, whichever way; corners at one place are passed over. */
function turnsOf(flat: readonly number[]): number {
  let sum = 0
  let before: [number, number] | null = null
  let first: [number, number] | null = null
  const add = (x: number, y: number): void => {
    if (before) sum += Math.atan2(before[0] * y - before[1] * x, before[0] * x + before[1] * y)
    first ??= [x, y]
    before = [x, y]
  }
  for (let at = 0; at < flat.length; at += 2) {
    const next = (at + 2) % flat.length
    const x = flat[next]! - flat[at]!
    const y = flat[next + 1]! - flat[at + 1]!
    const length = Math.hypot(x, y)
    if (length > 0 && Number.isFinite(length)) add(x / length, y / length)
  }
  if (first) add(...(first as [number, number]))
  return Math.abs(sum) / (2 * Math.PI)
}

/** Twice a triangle's area by its longest side squared; below it three corners lie on a line. */
const FLAT = 1e-9

/**
 * Triangles without area, over corners on a straight side, are turned with the one on their longest side: both then
 * have some. A polygon that has no area itself keeps them.
 */
function turnFlat(triangles: number[], flat: readonly number[], size: number): void {
  const x = (corner: number): number => flat[2 * corner]!
  const y = (corner: number): number => flat[2 * corner + 1]!
  const doubled = (a: number, b: number, c: number): number =>
    (x(b) - x(a)) * (y(c) - y(a)) - (y(b) - y(a)) * (x(c) - x(a))
  const squared = (a: number, b: number): number => (x(a) - x(b)) ** 2 + (y(a) - y(b)) ** 2
  const isFlat = (a: number, b: number, c: number): boolean =>
    Math.abs(doubled(a, b, c)) <= FLAT * Math.max(squared(a, b), squared(b, c), squared(c, a))
  let onSide: Map<number, number> | null = null
  const note = (at: number): void => {
    for (let k = 0; k < 3; k++) onSide!.set(triangles[at + k]! * size + triangles[at + ((k + 1) % 3)]!, at)
  }
  for (let at = 0; at < triangles.length; at += 3) {
    const corners = [triangles[at]!, triangles[at + 1]!, triangles[at + 2]!] as const
    if (!isFlat(...corners)) continue
    if (!onSide) {
      onSide = new Map()
      for (let each = 0; each < triangles.length; each += 3) note(each)
    }
    // from a to b is the longest side, m lies on it
    const k = [0, 1, 2].reduce((best, side) =>
      squared(corners[side]!, corners[(side + 1) % 3]!) > squared(corners[best]!, corners[(best + 1) % 3]!)
        ? side
        : best,
    )
    const [a, b, m] = [corners[k]!, corners[(k + 1) % 3]!, corners[(k + 2) % 3]!]
    const neighbour = onSide.get(b * size + a)
    if (neighbour === undefined || neighbour === at) continue
    const c = [0, 1, 2].map((each) => triangles[neighbour + each]!).find((each) => each !== a && each !== b)!
    if (c === m || isFlat(m, b, c) || isFlat(a, m, c)) continue
    triangles.splice(at, 3, m, c, b)
    triangles.splice(neighbour, 3, m, a, c)
    note(at)
    note(neighbour)
  }
}

/**
 * Triangles of one face as corner numbers within it; concave polygons and bent ones are cut by ear clipping. There
 * are two fewer than corners, and every corner is in one: a corner on a straight side, or at the same place as the
 * one before it, still holds the neighbour's side.
 */
export function triangulateFace(mesh: Mesh, face: number, faceNormals: Float64Array, into: number[]): void {
  const start = mesh.faceOffsets[face]!
  const size = mesh.faceOffsets[face + 1]! - start
  if (size < 3) return
  if (size === 3) {
    into.push(0, 1, 2)
    return
  }
  const [first, second] = dominantAxes(faceNormals, 3 * face)
  if (size === 4) return cutQuad(mesh, start, first, second, into)
  const flat: number[] = []
  for (let corner = 0; corner < size; corner++) {
    const point = 3 * mesh.faceVertices[start + corner]!
    flat.push(mesh.points[point + first]!, mesh.points[point + second]!)
  }
  const cut = size > FEW_CORNERS && turnsOf(flat) >= MANY_TURNS ? null : takeInLeftOut(earcut(flat), size)
  if (!cut) for (let corner = 1; corner + 1 < size; corner++) into.push(0, corner, corner + 1)
  else {
    // ear clipping does not keep the winding
    let area = 0
    for (let corner = 0; corner < size; corner++) {
      const next = (corner + 1) % size
      area += flat[2 * corner]! * flat[2 * next + 1]! - flat[2 * next]! * flat[2 * corner + 1]!
    }
    for (let at = 0; at < cut.length; at += 3) {
      const [a, b, c] = [cut[at]!, cut[at + 1]!, cut[at + 2]!]
      const turn =
        (flat[2 * b]! - flat[2 * a]!) * (flat[2 * c + 1]! - flat[2 * a + 1]!) -
        (flat[2 * b + 1]! - flat[2 * a + 1]!) * (flat[2 * c]! - flat[2 * a]!)
      if (turn * area < 0) cut.splice(at, 3, a, c, b)
    }
    turnFlat(cut, flat, size)
    for (const corner of cut) into.push(corner)
  }
}

/**
 * Ear clipping leaves corners out that lie on the line between their neighbours: each splits the triangle on that line.
 * @returns null where some corner has no such triangle, as in polygons that cross themselves.
 */
function takeInLeftOut(cut: readonly number[], size: number): number[] | null {
  if (cut.length === 3 * (size - 2)) return [...cut]
  const used = new Uint8Array(size)
  for (const corner of cut) used[corner] = 1
  const first = used.indexOf(1)
  if (first < 0) return null
  /** For each corner the next one behind it that ear clipping kept, the way round. */
  const nextKept = new Int32Array(size)
  for (let step = size, kept = first; step > 0; step--) {
    const corner = (first + step) % size
    nextKept[corner] = kept
    if (used[corner]) kept = corner
  }
  const triangles = [...cut]
  /** The triangle on a side, by the side's corners the way round that the triangle has them. */
  const onSide = new Map<number, number>()
  const note = (at: number): void => {
    for (let k = 0; k < 3; k++) onSide.set(triangles[at + k]! * size + triangles[at + ((k + 1) % 3)]!, at)
  }
  for (let at = 0; at < triangles.length; at += 3) note(at)
  let before = first
  for (let step = 1; step < size; step++) {
    const corner = (first + step) % size
    if (!used[corner]) {
      const after = nextKept[corner]!
      const forward = onSide.get(before * size + after)
      const at = forward ?? onSide.get(after * size + before)
      if (at === undefined) return null
      const [from, to] = forward === undefined ? [after, before] : [before, after]
      const third = [0, 1, 2].map((k) => triangles[at + k]!).find((other) => other !== from && other !== to)!
      triangles.splice(at, 3, from, corner, third)
      const added = triangles.push(corner, to, third) - 3
      note(at)
      note(added)
      used[corner] = 1
    }
    before = corner
  }
  return triangles.length === 3 * (size - 2) ? triangles : null
}

/** A quad is cut along the diagonal that leaves both halves facing the same way; the first where both do. */
function cutQuad(mesh: Mesh, start: number, first: number, second: number, into: number[]): void {
  const { points, faceVertices } = mesh
  const a = 3 * faceVertices[start]!
  const b = 3 * faceVertices[start + 1]!
  const c = 3 * faceVertices[start + 2]!
  const d = 3 * faceVertices[start + 3]!
  const acx = points[c + first]! - points[a + first]!
  const acy = points[c + second]! - points[a + second]!
  const turnB =
    (points[b + first]! - points[a + first]!) * acy - (points[b + second]! - points[a + second]!) * acx
  const turnD =
    (points[d + first]! - points[a + first]!) * acy - (points[d + second]! - points[a + second]!) * acx
  const bdx = points[d + first]! - points[b + first]!
  const bdy = points[d + second]! - points[b + second]!
  const turnA =
    (points[a + first]! - points[b + first]!) * bdy - (points[a + second]! - points[b + second]!) * bdx
  const turnC =
    (points[c + first]! - points[b + first]!) * bdy - (points[c + second]! - points[b + second]!) * bdx
  const size = acx * acx + acy * acy + bdx * bdx + bdy * bdy
  const isFlat = (turn: number): boolean => Math.abs(turn) <= FLAT * size
  // a corner on a straight side makes a triangle without area over one diagonal and none over the other
  const other = (isFlat(turnB) || isFlat(turnD)) && turnA * turnC < 0 && !isFlat(turnA) && !isFlat(turnC)
  // the other two corners lie on either side of the diagonal
  if (turnB * turnD <= 0 && !other) into.push(0, 1, 2, 0, 2, 3)
  else into.push(1, 2, 3, 1, 3, 0)
}

/** The two axes in which a face is seen largest. */
function dominantAxes(normals: Float64Array, at: number): [number, number] {
  const x = Math.abs(normals[at]!)
  const y = Math.abs(normals[at + 1]!)
  const z = Math.abs(normals[at + 2]!)
  if (x >= y && x >= z) return [1, 2]
  return y >= z ? [2, 0] : [0, 1]
}
