/** Islands cut along further seams; those that come apart can't stay where they are and are packed. */
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { islandsInSet } from '../../uv/islands/laid-island.ts'
import { outcome, type StepContext, type StepOutcome } from '../step.ts'
import { chosenMeshes, packTogether, setNamed, writeIslands, type MeshIslands } from './place-on-tiles.ts'

/** @param seamsOf edgeCount flags of further seams; null: none. */
export function cutAndPack(
  context: StepContext,
  seamsOf: (mesh: Mesh, facts: MeshFacts, node: number) => Uint8Array | null,
): StepOutcome {
  const name = context.text('set')
  const given: MeshIslands[] = []
  const notes: string[] = []
  let more = 0
  for (const { mesh: index, node } of chosenMeshes(context)) {
    const mesh = context.scene.meshes[index]!
    const set = setNamed(mesh, name)
    const facts = context.factsOf(mesh)
    const seams = seamsOf(mesh, facts, node)
    if (!seams) continue
    if (!set) {
      notes.push(`“${mesh.name}” has no such UVs; unwrap it.`)
      continue
    }
    const before = islandsInSet(facts, set, null, null, false).length
    const islands = islandsInSet(facts, set, null, seams)
    more += islands.length - before
    given.push({ mesh: index, node, islands, scales: islands.map(() => 1), groups: islands.map(() => 0) })
  }
  if (more === 0)
    return outcome(context.scene, 0, 'polygons', {
      notes: [...notes, ...(given.length ? ['Nothing comes apart along these edges.'] : [])],
    })
  const packed = packTogether(given, {
    padding: context.number('padding') / context.number('mapSize'),
    turn: 'none',
    scale: null,
  })
  const done = writeIslands(context, packed.islands, (mesh) => {
    const set = setNamed(mesh, name)!
    return { name: set.name, before: set }
  })
  return {
    ...done,
    notes: [`${more} ${more === 1 ? 'island' : 'islands'} more.`, ...packed.notes, ...notes, ...done.notes],
  }
}
