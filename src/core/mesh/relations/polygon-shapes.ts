/** How long and how unlike their neighbours polygons are. */
import type { MeshFacts } from './mesh-facts.ts'

/**
 * faceCount; longest side by the mean height over it (area by longest side), and so 1 for a square, about
 * 1.15 for an even triangle; infinite for polygons without area.
 */
export function polygonAspects(facts: MeshFacts): Float64Array {
  const { mesh } = facts
  const points = facts.points()
  const areas = facts.faceAreas()
  const aspects = new Float64Array(facts.faceCount)
  for (let face = 0; face < aspects.length; face++) {
    const start = mesh.faceOffsets[face]!
    const end = mesh.faceOffsets[face + 1]!
    let longest = 0
    let from = 3 * mesh.faceVertices[end - 1]!
    for (let corner = start; corner < end; corner++) {
      const to = 3 * mesh.faceVertices[corner]!
      const dx = points[to]! - points[from]!
      const dy = points[to + 1]! - points[from + 1]!
      const dz = points[to + 2]! - points[from + 2]!
      const squared = dx * dx + dy * dy + dz * dz
      if (squared > longest) longest = squared
      from = to
    }
    // a triangle's height over its longest side is twice its area by it
    const height = end - start === 3 ? 2 * areas[face]! : areas[face]!
    aspects[face] = height > 0 ? longest / height : Infinity
  }
  return aspects
}

/** As `polygonAspects` has it, of a quad; `corners` 4 x 3. */
export function quadAspect(corners: ArrayLike<number>): number {
  let longest = 0
  for (let from = 0; from < 12; from += 3) {
    const to = (from + 3) % 12
    const x = corners[to]! - corners[from]!
    const y = corners[to + 1]! - corners[from + 1]!
    const z = corners[to + 2]! - corners[from + 2]!
    longest = Math.max(longest, x * x + y * y + z * z)
  }
  const [ux, uy, uz] = [corners[6]! - corners[0]!, corners[7]! - corners[1]!, corners[8]! - corners[2]!]
  const [vx, vy, vz] = [corners[9]! - corners[3]!, corners[10]! - corners[4]!, corners[11]! - corners[5]!]
  const area = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2
  return area > 0 ? longest / area : Infinity
}

/** faceCount; area by the mean area of the faces over its edges. */
export function neighborRatios(facts: MeshFacts): Float64Array {
  const { mesh } = facts
  const areas = facts.faceAreas()
  const { cornerEdges, edgeSides, edgeCorners } = facts.edges()
  const cornerFaces = facts.cornerFaces()
  const ratios = new Float64Array(facts.faceCount).fill(1)
  for (let face = 0; face < ratios.length; face++) {
    let sum = 0
    let met = 0
    for (let corner = mesh.faceOffsets[face]!; corner < mesh.faceOffsets[face + 1]!; corner++) {
      const edge = cornerEdges[corner]!
      if (edgeSides[edge] !== 2) continue
      const other = edgeCorners[2 * edge] === corner ? edgeCorners[2 * edge + 1]! : edgeCorners[2 * edge]!
      sum += areas[cornerFaces[other]!]!
      met++
    }
    if (met && sum > 0) ratios[face] = areas[face]! / (sum / met)
  }
  return ratios
}
