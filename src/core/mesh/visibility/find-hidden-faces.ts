/** Faces that no ray from outside can reach. */
import { buildBvh, type Bvh } from '../../base/math/bvh.ts'
import { markSeenFaces } from './mark-seen-faces.ts'
import { transformPoints, isIdentity, type Matrix } from '../../base/math/matrix.ts'
import type { MeshFacts } from '../relations/mesh-facts.ts'
import { computeFaceNormals } from '../relations/face-normals.ts'

/** Directions in which a face is looked for, on either side of it. */
const DIRECTIONS = 40

/** Directions from near each corner, every other one of them from each. */
const FINE_DIRECTIONS = 24
/** Share of the way from the middle to a corner. */
const NEAR_CORNER = 0.9

/** Rays beyond two a face; a model whose faces are mostly hidden would else take minutes. */
const SPARE_RAYS = 2_000_000

export interface VisiblePart {
  readonly facts: MeshFacts
  readonly world: Matrix
  /** faceCount flags of faces that hide nothing, as those of glass; null: none. */
  readonly seeThrough: Uint8Array | null
}

export interface HiddenFaces {
  /** One list of faces for each given part. */
  readonly faces: readonly (readonly number[])[]
  /** False where the rays ran out: faces not looked at count as seen. */
  readonly complete: boolean
}

/** The faces that hide what is behind them, with their numbers among all. */
function opaqueFaces(
  parts: readonly VisiblePart[],
  faceOffsets: Uint32Array,
  faceVertices: Uint32Array,
): { faces: Uint32Array; faceOffsets: Uint32Array; faceVertices: Uint32Array } {
  const faceTotal = faceOffsets.length - 1
  if (parts.every(({ seeThrough }) => !seeThrough))
    return { faces: Uint32Array.from({ length: faceTotal }, (_face, at) => at), faceOffsets, faceVertices }
  const faces: number[] = []
  const offsets = [0]
  const vertices: number[] = []
  let first = 0
  for (const { facts, seeThrough } of parts) {
    for (let face = 0; face < facts.faceCount; face++) {
      if (seeThrough?.[face]) continue
      faces.push(first + face)
      for (let corner = faceOffsets[first + face]!; corner < faceOffsets[first + face + 1]!; corner++)
        vertices.push(faceVertices[corner]!)
      offsets.push(vertices.length)
    }
    first += facts.faceCount
  }
  return {
    faces: Uint32Array.from(faces),
    faceOffsets: Uint32Array.from(offsets),
    faceVertices: Uint32Array.from(vertices),
  }
}

/** Points spread evenly over the sphere (a Fibonacci lattice). */
function spherePoints(count: number): Float64Array {
  const directions = new Float64Array(3 * count)
  for (let at = 0; at < count; at++) {
    const y = 1 - (2 * at + 1) / count
    const radius = Math.sqrt(1 - y * y)
    const angle = at * Math.PI * (3 - Math.sqrt(5))
    directions[3 * at] = radius * Math.cos(angle)
    directions[3 * at + 1] = y
    directions[3 * at + 2] = radius * Math.sin(angle)
  }
  return directions
}

/**
 * What is nearest along an axis is seen. From the middle of every other face rays look outwards, first straight
 * off its front and back, then in 40 directions, and in some from near each of its corners: a face from which
 * no ray leaves the model is hidden. Faces that one sees through stop no ray. A face that can be seen only through a
 * gap narrower than the directions lie apart may still be taken for hidden.
 */
export function findHiddenFaces(parts: readonly VisiblePart[]): HiddenFaces {
  let pointTotal = 0
  let faceTotal = 0
  let cornerTotal = 0
  for (const { facts } of parts) {
    pointTotal += facts.pointCount
    faceTotal += facts.faceCount
    cornerTotal += facts.mesh.faceVertices.length
  }
  const points = new Float64Array(3 * pointTotal)
  const faceOffsets = new Uint32Array(faceTotal + 1)
  const faceVertices = new Uint32Array(cornerTotal)
  let pointBase = 0
  let faceBase = 0
  let cornerBase = 0
  for (const { facts, world } of parts) {
    const placed = isIdentity(world) ? facts.points() : transformPoints(facts.points(), world)
    points.set(placed, 3 * pointBase)
    const { mesh } = facts
    for (let corner = 0; corner < mesh.faceVertices.length; corner++)
      faceVertices[cornerBase + corner] = mesh.faceVertices[corner]! + pointBase
    for (let face = 0; face < facts.faceCount; face++)
      faceOffsets[faceBase + face + 1] = cornerBase + mesh.faceOffsets[face + 1]!
    pointBase += facts.pointCount
    faceBase += facts.faceCount
    cornerBase += mesh.faceVertices.length
  }
  const normals = computeFaceNormals({ faceOffsets, faceVertices, points })
  const opaque = opaqueFaces(parts, faceOffsets, faceVertices)
  const seen = new Uint8Array(faceTotal)
  markSeenFaces(points, opaque.faceOffsets, opaque.faceVertices).forEach((flag, at) => {
    seen[opaque.faces[at]!] = flag
  })
  const placeOf = new Int32Array(faceTotal).fill(-1)
  opaque.faces.forEach((face, at) => (placeOf[face] = at))
  // where everything is seen at once no tree is needed
  let bvh: Bvh | null = null
  const directions = spherePoints(DIRECTIONS)
  const fine = spherePoints(FINE_DIRECTIONS)
  /** What stopped the ray before this one that went the same way, among the faces that hide; -1: nothing yet. */
  const stoppedBy = new Int32Array(2 + DIRECTIONS + FINE_DIRECTIONS).fill(-1)
  let rays = 0
  let complete = true
  const isHidden = (face: number): boolean => {
    bvh ??= buildBvh({ points, faceOffsets: opaque.faceOffsets, faceVertices: opaque.faceVertices })
    const own = placeOf[face]!
    let x = 0
    let y = 0
    let z = 0
    const start = faceOffsets[face]!
    const size = faceOffsets[face + 1]! - start
    for (let corner = start; corner < start + size; corner++) {
      const point = 3 * faceVertices[corner]!
      x += points[point]!
      y += points[point + 1]!
      z += points[point + 2]!
    }
    x /= size
    y /= size
    z /= size
    const nx = normals[3 * face]!
    const ny = normals[3 * face + 1]!
    const nz = normals[3 * face + 2]!
    if (nx === 0 && ny === 0 && nz === 0) return false
    const tree = bvh
    /** Whether a ray is stopped; `way` tells rays apart that go about the same way from face to face. */
    const stopped = (way: number, ox: number, oy: number, oz: number, dx: number, dy: number, dz: number) => {
      rays++
      const by = tree.firstHit(ox, oy, oz, dx, dy, dz, own, stoppedBy[way])
      if (by >= 0) stoppedBy[way] = by
      return by >= 0
    }
    if (!stopped(0, x, y, z, nx, ny, nz) || !stopped(1, x, y, z, -nx, -ny, -nz)) return false
    for (let at = 0; at < DIRECTIONS; at++)
      if (!stopped(2 + at, x, y, z, directions[3 * at]!, directions[3 * at + 1]!, directions[3 * at + 2]!))
        return false
    // what is hidden at its middle may show at a corner, through a slit
    for (let corner = start; corner < start + size; corner++) {
      const point = 3 * faceVertices[corner]!
      const cx = x + (points[point]! - x) * NEAR_CORNER
      const cy = y + (points[point + 1]! - y) * NEAR_CORNER
      const cz = z + (points[point + 2]! - z) * NEAR_CORNER
      for (let at = corner % 2; at < FINE_DIRECTIONS; at += 2)
        if (!stopped(2 + DIRECTIONS + at, cx, cy, cz, fine[3 * at]!, fine[3 * at + 1]!, fine[3 * at + 2]!))
          return false
    }
    return true
  }
  const faces: number[][] = []
  let first = 0
  for (const { facts } of parts) {
    const hidden: number[] = []
    for (let face = 0; face < facts.faceCount; face++) {
      if (seen[first + face]) continue
      if (rays > SPARE_RAYS + 2 * faceTotal) {
        complete = false
        break
      }
      if (isHidden(first + face)) hidden.push(face)
    }
    first += facts.faceCount
    faces.push(hidden)
  }
  return { faces, complete }
}
