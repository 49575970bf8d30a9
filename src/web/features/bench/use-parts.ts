import { computed, ref, type Ref } from 'vue'
import type { MeshInspection, SceneInspection } from '../../../core/inspect/inspect-scene.ts'
import { shownName } from '../../../core/base/messages/names-text.ts'

export interface PartEntry {
  readonly node: number
  /** What the part is known by from version to version. */
  readonly id: string
  readonly name: string
  readonly path: string
  readonly mesh: MeshInspection
}

/** The parts of the model on the bench, the one that is selected, and what belongs to it. */
export function useParts(inspection: Ref<SceneInspection | null>) {
  const selected = ref<number | null>(null)
  const nodes = computed(() => inspection.value?.nodes ?? [])
  const parts = computed(() =>
    nodes.value.flatMap(({ id, name, path, mesh }, node): PartEntry[] =>
      mesh === null ? [] : [{ node, id, name, path, mesh: inspection.value!.meshes[mesh]! }],
    ),
  )
  const byNode = computed(() => new Map(parts.value.map((part) => [part.node, part])))
  const part = computed(() => (selected.value === null ? null : (byNode.value.get(selected.value) ?? null)))
  const names = computed(() => nodes.value.map((node) => shownName(node.name)))
  const materials = computed(() => {
    const own = part.value?.mesh.materials
    return (inspection.value?.materials ?? []).filter(
      ({ name }, at) =>
        !own || own.some((material) => (material.index ?? at) === at && material.name === name),
    )
  })
  return { selected, parts, byNode, part, names, materials }
}
