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

/** As `polygonAspects` has it, of four places. */
export function quadAspect(corners: readonly (readonly number[])[]): number {
  const side = (from: number, to: number): number[] =>
    [0, 1, 2].map((axis) => corners[to]![axis]! - corners[from]![axis]!)
  const longest = Math.max(
    ...[0, 1, 2, 3].map((k) => side(k, (k + 1) % 4).reduce((sum, value) => sum + value * value, 0)),
  )
  const [u, v] = [side(0, 2), side(1, 3)]
  const area =
    Math.hypot(u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!) /
    2
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
