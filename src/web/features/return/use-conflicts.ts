import { computed, ref, shallowRef, watch } from 'vue'
import type { ConflictDocument } from '../../../contract/ledger.ts'

/**
 * What was changed on both sides, and which side was chosen for each.
 * @param asked what the question rests on: with another one nothing is asked or chosen yet.
 */
export function useConflicts(asked: () => readonly unknown[]) {
  const conflicts = shallowRef<readonly ConflictDocument[]>([])
  const choices = ref<Record<string, Record<string, 'there' | 'here'>>>({})
  const allChosen = computed(() =>
    conflicts.value.every(({ id, trait }) => choices.value[id]?.[trait] !== undefined),
  )
  function choose(which: readonly ConflictDocument[], side: 'there' | 'here'): void {
    for (const { id, trait } of which) choices.value[id] = { ...choices.value[id], [trait]: side }
  }
  watch(asked, () => {
    conflicts.value = []
    choices.value = {}
  })
  return { conflicts, choices, allChosen, choose }
}
