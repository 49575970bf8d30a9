import type { Mesh } from '../../../scene/mesh.ts'

/** Creases as sorted rows of numbers, so that the order in a file doesn’t matter. */
export function creaseLines(mesh: Mesh): number[][] {
  if (!mesh.creases) return []
  const { edgePoints, edgeSharpness, cornerPoints, cornerSharpness } = mesh.creases
  const lines: number[][] = []
  for (let edge = 0; edge < edgeSharpness.length; edge++) {
    const from = edgePoints[2 * edge]!
    const to = edgePoints[2 * edge + 1]!
    lines.push([Math.min(from, to), Math.max(from, to), edgeSharpness[edge]!])
  }
  for (let corner = 0; corner < cornerSharpness.length; corner++)
    lines.push([cornerPoints[corner]!, -1, cornerSharpness[corner]!])
  return lines.sort((a, b) => a[0]! - b[0]! || a[1]! - b[1]!)
}
