/** Ragged borders between charts made straighter, a face at a time. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'

const ROUNDS = 4

/** Faces go over to the chart that more of their border lies at, where both stay in one piece there. Changes `faceCharts`. */
export function shortenSeams(
  facts: MeshFacts,
  pairs: Int32Array,
  faceCharts: Int32Array,
  costs: Float64Array,
  isBarrier: Uint8Array,
): void {
  const { faceOffsets } = facts.mesh
  const { cornerEdges } = facts.edges()
  for (let round = 0; round < ROUNDS; round++) {
    let moved = 0
    for (let face = 0; face < facts.faceCount; face++) {
      const own = faceCharts[face]!
      if (own < 0) continue
      const at = new Map<number, number>()
      let runs = 0
      let isInside = false
      const [start, end] = [faceOffsets[face]!, faceOffsets[face + 1]!]
      // how often the face's sides change between its own chart and others
      const chartOver = (corner: number): number => {
        const edge = cornerEdges[corner]!
        const [a, b] = [pairs[2 * edge]!, pairs[2 * edge + 1]!]
        return a < 0 || isBarrier[edge] ? -1 : faceCharts[a === face ? b : a]!
      }
      let before = chartOver(end - 1)
      for (let corner = start; corner < end; corner++) {
        const chart = chartOver(corner)
        if (chart === own) isInside = true
        if (chart === own && before !== own) runs++
        if (chart >= 0) at.set(chart, (at.get(chart) ?? 0) + costs[cornerEdges[corner]!]!)
        before = chart
      }
      if (at.size < 2 || !isInside || runs > 1) continue
      let best = own
      for (const [chart, cost] of at) if (cost > at.get(best)! * 1.0001) best = chart
      if (best === own) continue
      faceCharts[face] = best
      moved++
    }
    if (moved === 0) break
  }
}
