import { nextTick, shallowRef, type Ref } from 'vue'
import type { CheckSettings } from '../../../core/checks/settings.ts'
import type { HighlightItem } from '../../viewport/viewer-messages.ts'
import type { useBench } from './use-bench.ts'
import type { useDraft } from './use-draft.ts'
import type { useParts } from './use-parts.ts'

/** The finding on show, and what it marks in the views. */
export function useFindings(
  bench: ReturnType<typeof useBench>,
  draft: ReturnType<typeof useDraft>,
  { selected, byNode }: ReturnType<typeof useParts>,
  settings: Ref<Partial<CheckSettings>>,
  focus: () => void,
  failed: (error: unknown) => void,
) {
  /** Which of its places; null: all. */
  const shown = shallowRef<{ index: number; place: number | null } | null>(null)
  const marks = shallowRef<HighlightItem[]>([])
  const about = (index: number) => draft.findings.value.find((finding) => finding.index === index) ?? null

  function hide(): void {
    shown.value = null
    marks.value = []
  }
  async function show(index: number, place: number | null): Promise<void> {
    shown.value = { index, place }
    const finding = about(index)
    try {
      const places = await bench.ask('places', { index, place })
      marks.value = places ? [{ slot: 'master', ...places }] : []
      const node = finding?.node ?? (finding?.nodes.length === 1 ? finding.nodes[0]! : null)
      if (node !== null && byNode.value.has(node)) selected.value = node
      await nextTick()
      focus()
    } catch (error) {
      failed(error)
    }
  }
  /** Checks again and keeps the finding on show, where it is still there. */
  async function recheck(): Promise<void> {
    const was = shown.value ? about(shown.value.index) : null
    hide()
    await draft.check(settings.value)
    const again =
      was &&
      draft.findings.value.find(
        (entry) => entry.check === was.check && entry.problem === was.problem && entry.node === was.node,
      )
    if (again) shown.value = { index: again.index, place: null }
  }
  return { shown, marks, show, hide, recheck }
}
