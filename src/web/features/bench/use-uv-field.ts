import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import type { UvFieldKind, UvFields } from '../../../core/uv/uv-fields.ts'
import type { HighlightItem } from '../../viewport/viewer-messages.ts'
import type { useBench } from './use-bench.ts'
import type { useDraft } from './use-draft.ts'

const NOTHING: UvFields = { fields: [], even: null }

/** How even the UVs of the parts on show are, as colours over both views. */
export function useUvField(
  bench: ReturnType<typeof useBench>,
  draft: ReturnType<typeof useDraft>,
  nodes: Ref<readonly number[]>,
  failed: (error: unknown) => void,
) {
  const kind = ref<UvFieldKind | 'none'>('none')
  const fields = shallowRef<UvFields>(NOTHING)
  let ticket = 0
  watch([kind, nodes, draft.records], async () => {
    const own = ++ticket
    if (kind.value === 'none' || !draft.inspection.value) {
      fields.value = NOTHING
      return
    }
    try {
      const answer = await bench.ask('uvField', { kind: kind.value, nodes: [...nodes.value] })
      if (own === ticket) fields.value = answer
    } catch (error) {
      if (own === ticket) failed(error)
    }
  })
  const marks = computed<HighlightItem[]>(() =>
    fields.value.fields.map(({ node, values }) => ({
      slot: 'master',
      node,
      element: 'faces',
      elements: new Uint32Array(0),
      heat: values,
    })),
  )
  return { kind, fields, marks }
}
