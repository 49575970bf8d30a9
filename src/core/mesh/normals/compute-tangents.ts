/**
 * Tangents by the MikkTSpace algorithm (Mikkelsen 2008, "Simulation of wrinkled surfaces revisited"; the
 * reference code's rules from memory), which normal maps of most tools are made for. Checked against the
 * reference code in tests.
 *
 * A triangle's tangent follows from how its UVs lie on it. Round a point triangles are grouped over shared
 * edges as long as their UVs are not mirrored against each other; in a group each counts by its angle.
 */
export interface TangentSource {
  /** 9 x triangleCount: three corners each, not indexed. */
  readonly positions: ArrayLike<number>
  /** 9 x triangleCount, of unit length. */
  readonly normals: ArrayLike<number>
  /** 6 x triangleCount, V up. */
  readonly uvs: ArrayLike<number>
}

type Vector = [number, number, number]
const vectorAt = (values: ArrayLike<number>, at: number): Vector => [
  values[3 * at]!,
  values[3 * at + 1]!,
  values[3 * at + 2]!,
]
const minus = (a: Vector, b: Vector): Vector => [a[0] - b[0], a[1] - b[1], a[2] - b[2]]
const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
const combined = (a: Vector, x: number, b: Vector, y: number): Vector => [
  a[0] * x + b[0] * y,
  a[1] * x + b[1] * y,
  a[2] * x + b[2] * y,
]
const unit = (v: Vector): Vector => {
  const length = Math.hypot(...v)
  return length > 0 ? [v[0] / length, v[1] / length, v[2] / length] : v
}
/** What is left of a vector square to a normal. */
const inPlane = (v: Vector, normal: Vector): Vector => unit(combined(v, 1, normal, -dot(normal, v)))

/** For each corner a number that it shares with those that agree with it in everything. */
function sameCorners({ positions, normals, uvs }: TangentSource, cornerCount: number): Uint32Array {
  let size = 16
  while (size < 2 * cornerCount) size *= 2
  const table = new Int32Array(size).fill(-1)
  const first = new Uint32Array(cornerCount)
  const ids = new Uint32Array(cornerCount)
  const parts = new Float64Array(8)
  const bits = new Int32Array(parts.buffer)
  const isSame = (a: number, b: number): boolean => {
    for (let axis = 0; axis < 3; axis++)
      if (
        positions[3 * a + axis] !== positions[3 * b + axis] ||
        normals[3 * a + axis] !== normals[3 * b + axis]
      )
        return false
    return uvs[2 * a] === uvs[2 * b] && uvs[2 * a + 1] === uvs[2 * b + 1]
  }
  let count = 0
  for (let corner = 0; corner < cornerCount; corner++) {
    for (let axis = 0; axis < 3; axis++) {
      // adding 0 makes -0 and 0 one
      parts[axis] = positions[3 * corner + axis]! + 0
      parts[3 + axis] = normals[3 * corner + axis]! + 0
    }
    parts[6] = uvs[2 * corner]! + 0
    parts[7] = uvs[2 * corner + 1]! + 0
    let hash = 0
    for (let at = 0; at < 16; at++) hash = Math.imul(hash ^ bits[at]!, 0x9e3779b1) ^ (hash >>> 15)
    let slot = (hash ^ (hash >>> 13)) & (size - 1)
    for (;;) {
      const id = table[slot]!
      if (id < 0) {
        first[count] = corner
        table[slot] = ids[corner] = count++
        break
      }
      if (isSame(first[id]!, corner)) {
        ids[corner] = id
        break
      }
      slot = (slot + 1) & (size - 1)
    }
  }
  return ids
}

/** @returns the first corner that starts a side between two corners' numbers; -1 for none. */
function sidesOf(ids: Uint32Array, cornerCount: number): (from: number, to: number) => number {
  let size = 16
  while (size < 2 * cornerCount) size *= 2
  const table = new Int32Array(size).fill(-1)
  const endOf = (corner: number): number => corner - (corner % 3) + ((corner + 1) % 3)
  const slotOf = (from: number, to: number): number => {
    const hash = Math.imul(Math.imul(from, 0x9e3779b1) ^ to, 0x85ebca6b)
    let slot = (hash ^ (hash >>> 15)) & (size - 1)
    for (;;) {
      const corner = table[slot]!
      if (corner < 0 || (ids[corner] === from && ids[endOf(corner)] === to)) return slot
      slot = (slot + 1) & (size - 1)
    }
  }
  for (let corner = 0; corner < cornerCount; corner++) {
    const slot = slotOf(ids[corner]!, ids[endOf(corner)]!)
    if (table[slot]! < 0) table[slot] = corner
  }
  return (from, to) => table[slotOf(from, to)]!
}

/**
 * @returns 12 x triangleCount: x, y, z of each corner's tangent and its sign; bitangent = sign * cross(normal,
 * tangent). Corners at which no triangle's UVs have an area get 1 0 0 1.
 */
export function computeTangents(source: TangentSource): Float64Array {
  const cornerCount = source.positions.length / 3
  const triangleCount = Math.floor(cornerCount / 3)
  const ids = sameCorners(source, cornerCount)
  const along: Vector[] = []
  const preserving = new Uint8Array(triangleCount)
  const flat = new Uint8Array(triangleCount)
  for (let triangle = 0; triangle < triangleCount; triangle++) {
    const [p, q, r] = [0, 1, 2].map((k) => vectorAt(source.positions, 3 * triangle + k)) as [
      Vector,
      Vector,
      Vector,
    ]
    const uv = (k: number, axis: number): number => source.uvs[2 * (3 * triangle + k) + axis]!
    const s1 = uv(1, 0) - uv(0, 0)
    const t1 = uv(1, 1) - uv(0, 1)
    const s2 = uv(2, 0) - uv(0, 0)
    const t2 = uv(2, 1) - uv(0, 1)
    const area = s1 * t2 - t1 * s2
    preserving[triangle] = area > 0 ? 1 : 0
    const os = combined(minus(q, p), t2, minus(r, p), -t1)
    const ot = combined(minus(q, p), -s2, minus(r, p), s1)
    if (area === 0 || Math.hypot(...os) === 0 || Math.hypot(...ot) === 0) flat[triangle] = 1
    along.push(unit(combined(os, area > 0 ? 1 : -1, os, 0)))
  }
  // across each edge: the triangle and the corner that starts the side there
  const sides = sidesOf(ids, 3 * triangleCount)
  const groupOf = new Int32Array(3 * triangleCount).fill(-1)
  const groups: number[][] = []
  for (let corner = 0; corner < 3 * triangleCount; corner++) {
    if (groupOf[corner]! >= 0 || flat[Math.floor(corner / 3)]) continue
    const orientation = preserving[Math.floor(corner / 3)]!
    const group: number[] = []
    const waiting = [corner]
    while (waiting.length) {
      const at = waiting.pop()!
      const triangle = Math.floor(at / 3)
      if (groupOf[at]! >= 0) continue
      // a triangle without area in the UVs goes with whatever it lies beside
      if (!flat[triangle] && preserving[triangle] !== orientation) continue
      groupOf[at] = groups.length
      group.push(at)
      const first = at - (at % 3)
      const next = first + ((at + 1) % 3)
      const before = first + ((at + 2) % 3)
      const overNext = sides(ids[next]!, ids[at]!)
      if (overNext >= 0) waiting.push(overNext - (overNext % 3) + ((overNext + 1) % 3))
      const overBefore = sides(ids[at]!, ids[before]!)
      if (overBefore >= 0) waiting.push(overBefore)
    }
    groups.push(group)
  }
  const tangents = new Float64Array(12 * triangleCount)
  groups.forEach((group) => {
    const normal = vectorAt(source.normals, group[0]!)
    let sum: Vector = [0, 0, 0]
    for (const corner of group) {
      const triangle = Math.floor(corner / 3)
      if (flat[triangle]) continue
      const first = corner - (corner % 3)
      const own = vectorAt(source.positions, corner)
      const toBefore = inPlane(minus(vectorAt(source.positions, first + ((corner + 2) % 3)), own), normal)
      const toNext = inPlane(minus(vectorAt(source.positions, first + ((corner + 1) % 3)), own), normal)
      const angle = Math.acos(Math.max(-1, Math.min(1, dot(toBefore, toNext))))
      sum = combined(sum, 1, inPlane(along[triangle]!, normal), angle)
    }
    const tangent = unit(sum)
    const sign = preserving[Math.floor(group.find((corner) => !flat[Math.floor(corner / 3)])! / 3)] ? 1 : -1
    for (const corner of group) {
      tangents[4 * corner] = tangent[0]
      tangents[4 * corner + 1] = tangent[1]
      tangents[4 * corner + 2] = tangent[2]
      tangents[4 * corner + 3] = sign
    }
  })
  for (let corner = 0; corner < 3 * triangleCount; corner++)
    if (groupOf[corner]! < 0) tangents.set([1, 0, 0, 1], 4 * corner)
  return tangents
}
