import { createUnion } from '../../mesh/relations/adjacency.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../../scene/mesh.ts'

/** The pieces that a mesh falls into: polygons that hang together over shared points. */
export interface Shells {
  readonly count: number
  /** One a face; 0 to count - 1. */
  readonly ofFace: Int32Array
}

export function findShells(mesh: Mesh): Shells {
  const { join, rootOf } = createUnion(pointCountOf(mesh))
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const start = mesh.faceOffsets[face]!
    const first = mesh.faceVertices[start]!
    for (let corner = start + 1; corner < mesh.faceOffsets[face + 1]!; corner++)
      join(first, mesh.faceVertices[corner]!)
  }
  const numbers = new Map<number, number>()
  const ofFace = new Int32Array(faceCountOf(mesh))
  for (let face = 0; face < ofFace.length; face++) {
    const root = rootOf(mesh.faceVertices[mesh.faceOffsets[face]!]!)
    const known = numbers.get(root)
    if (known === undefined) numbers.set(root, numbers.size)
    ofFace[face] = known ?? numbers.size - 1
  }
  return { count: numbers.size, ofFace }
}

/** Triangles that a face counts as, however it is cut. */
export const trianglesOf = (mesh: Mesh, face: number): number =>
  Math.max(0, mesh.faceOffsets[face + 1]! - mesh.faceOffsets[face]! - 2)

/**
 * What of each shell survives moving, renumbering and cutting into triangles: how many points, triangles and border
 * edges it has. One text a shell.
 */
export function shellSignatures(mesh: Mesh, shells: Shells): string[] {
  const points = new Uint32Array(shells.count)
  const triangles = new Uint32Array(shells.count)
  const borders = new Uint32Array(shells.count)
  const seen = new Uint8Array(pointCountOf(mesh))
  const edges = new Map<number, number>()
  for (let face = 0; face < shells.ofFace.length; face++) {
    const shell = shells.ofFace[face]!
    triangles[shell]! += trianglesOf(mesh, face)
    const [start, end] = [mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!]
    for (let corner = start; corner < end; corner++) {
      const a = mesh.faceVertices[corner]!
      const b = mesh.faceVertices[corner + 1 < end ? corner + 1 : start]!
      if (!seen[a]) {
        seen[a] = 1
        points[shell]!++
      }
      const key = Math.min(a, b) * seen.length + Math.max(a, b)
      const times = edges.get(key) ?? 0
      edges.set(key, times + 1)
      if (times === 0) borders[shell]!++
      else if (times === 1) borders[shell]!--
    }
  }
  return Array.from({ length: shells.count }, (_shell, at) => `${points[at]} ${triangles[at]} ${borders[at]}`)
}

/** How long, flat or round a shell is: the second and third invariant of its corners' spread, by their sum; NaN of none. */
export type ShellForm = readonly [number, number]

/** Sculpting changes a form by less: a ball has 1/3 and 1/27, a flat disc 1/4 and 0, a needle 0 and 0. */
const [FLATTER, ROUNDER] = [0.06, 0.012]

export const formsAlike = (a: ShellForm, b: ShellForm): boolean =>
  // what can't be told speaks for nothing
  !(Math.abs(a[0] - b[0]) > FLATTER || Math.abs(a[1] - b[1]) > ROUNDER)

/**
 * @param points of the mesh, where they stand. Each point of a shell counts once, so that neither order nor cutting into
 * triangles says anything.
 */
export function shellForms(mesh: Mesh, points: Float64Array, shells: Shells): ShellForm[] {
  const counts = new Uint32Array(shells.count)
  const sums = new Float64Array(3 * shells.count)
  const seen = new Uint8Array(pointCountOf(mesh))
  const each = (visit: (shell: number, point: number) => void): void => {
    seen.fill(0)
    for (let face = 0; face < shells.ofFace.length; face++)
      for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
        const point = mesh.faceVertices[corner]!
        if (seen[point]) continue
        seen[point] = 1
        visit(shells.ofFace[face]!, point)
      }
  }
  each((shell, point) => {
    counts[shell]!++
    for (let axis = 0; axis < 3; axis++) sums[3 * shell + axis]! += points[3 * point + axis]!
  })
  const spreads = new Float64Array(6 * shells.count)
  each((shell, point) => {
    const count = counts[shell]!
    const x = points[3 * point]! - sums[3 * shell]! / count
    const y = points[3 * point + 1]! - sums[3 * shell + 1]! / count
    const z = points[3 * point + 2]! - sums[3 * shell + 2]! / count
    spreads[6 * shell]! += x * x
    spreads[6 * shell + 1]! += y * y
    spreads[6 * shell + 2]! += z * z
    spreads[6 * shell + 3]! += x * y
    spreads[6 * shell + 4]! += x * z
    spreads[6 * shell + 5]! += y * z
  })
  return Array.from({ length: shells.count }, (_shell, shell): ShellForm => {
    const [xx, yy, zz, xy, xz, yz] = spreads.subarray(6 * shell, 6 * shell + 6) as unknown as [number, number, number, number, number, number] // prettier-ignore
    const sum = xx + yy + zz
    return [
      (xx * yy + xx * zz + yy * zz - xy * xy - xz * xz - yz * yz) / sum ** 2,
      (xx * (yy * zz - yz * yz) - xy * (xy * zz - yz * xz) + xz * (xy * yz - yy * xz)) / sum ** 3,
    ]
  })
}
