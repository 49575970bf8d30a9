/** What both steps that sew share. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { Mesh, UvSet } from '../../scene/mesh.ts'
import { withIslands, withUvSet } from '../../uv/islands/laid-island.ts'
import { sewIslands } from '../../uv/islands/sew-islands.ts'
import { findOverlaps } from '../../uv/find-overlaps.ts'
import { changeMeshes, type StepContext, type StepOutcome } from '../step.ts'
import { setNamed } from './place-on-tiles.ts'

/** @param edgesOf edgeCount flags; null: none. */
export function sewAlong(
  context: StepContext,
  edgesOf: (mesh: Mesh, facts: MeshFacts, set: UvSet, node: number) => Uint8Array | null,
  mostRounds = 1,
): StepOutcome {
  return changeMeshes(context, 'polygons', (mesh, facts, node) => {
    const set = setNamed(mesh, context.text('set'))
    const wanted = set && edgesOf(mesh, facts, set, node)
    if (!wanted) return null
    const first = sewIslands(facts, set, wanted)
    let { islands, sewnEdges } = first
    const { refusedEdges } = first
    // what was sewn may lay bare the next of its kind
    let now = withIslands(mesh, set, set.name, islands)
    for (let round = 1; round < mostRounds && islands.length; round++) {
      const more = edgesOf(mesh, facts, now, node)
      const next = more && sewIslands(facts, now, more)
      if (!next?.sewnEdges) break
      sewnEdges += next.sewnEdges
      islands = [...islands, ...next.islands]
      now = withIslands(mesh, now, set.name, next.islands)
    }
    const notes = refusedEdges
      ? [
          `${refusedEdges} ${refusedEdges === 1 ? 'edge' : 'edges'} of “${mesh.name}” ${refusedEdges === 1 ? 'stays a seam' : 'stay seams'}: what they part would fold, be stretched or lie over itself.`,
        ]
      : []
    if (islands.length === 0) return notes.length ? { mesh, changedCount: 0, notes } : null
    const faces = [...new Set(islands.flatMap(({ net }) => Array.from(net.faces)))]
    const made = withUvSet(mesh, now)
    const [before, after] = [set, setNamed(made, context.text('set'))!].map(
      (own) => findOverlaps([{ mesh, set: own, chosen: null }]).pairCount,
    ) as [number, number]
    return {
      mesh: made,
      changedCount: faces.length,
      element: 'faces',
      elements: faces,
      notes: [
        `${sewnEdges} ${sewnEdges === 1 ? 'edge' : 'edges'} of “${mesh.name}” sewn.`,
        ...notes,
        ...(after > before ? [`Islands of “${mesh.name}” reach into one another now; pack them.`] : []),
      ],
    }
  })
}
