import { computed, ref, type Ref } from 'vue'
import type { OptionValues } from '../../../core/base/options/option.ts'
import type { RecipeStep } from '../../../core/steps/recipe.ts'
import type { HandPlacing } from '../../viewport/viewer-messages.ts'
import type { useChoosing } from './use-choosing.ts'
import type { PartEntry } from './use-parts.ts'

/** Digits of a step's figures: finer than any map. */
const rounded = (value: number): number => Number(value.toFixed(7))

/** What is chosen, placed by hand or by a press in the flat view: each time a step of the draft. */
export function useHandPlacing(
  { chosen, ruling }: ReturnType<typeof useChoosing>,
  parts: Ref<readonly PartEntry[]>,
  add: (step: RecipeStep) => Promise<void>,
) {
  /** Islands as wholes, or the corners that edges and corners have; null: nothing is chosen. */
  const placing = computed(() => {
    if (!chosen.value?.some(({ elements }) => elements.length) || ruling.value) return null
    return chosen.value[0]!.element === 'faces' ? ('islands' as const) : ('corners' as const)
  })
  /** How far from drawn corners others give way, tiles; null: they stay. */
  const reach = ref<number | null>(null)
  async function place(params: OptionValues): Promise<void> {
    const only = (chosen.value ?? []).flatMap(({ node, element, elements }) => {
      const id = parts.value.find((one) => one.node === node)?.id
      return id === undefined || elements.length === 0 ? [] : [{ node: id, element, elements: [...elements] }]
    })
    if (only.length === 0 || !placing.value) return
    const what: OptionValues = placing.value === 'islands' ? {} : { what: 'corners' }
    await add({ step: 'move-uvs', params: { ...what, ...params }, only })
  }
  async function placed(hand: HandPlacing): Promise<void> {
    const params = Object.fromEntries(
      Object.entries(hand)
        .map(([name, value]): [string, number] => [name, rounded(value as number)])
        .filter(([name, value]) => value !== (name.startsWith('scale') ? 1 : 0)),
    )
    if (Object.keys(params).length === 0) return
    const isDrawn =
      placing.value === 'corners' && Object.keys(params).every((name) => name.startsWith('move'))
    await place(
      isDrawn && reach.value !== null ? { ...params, rest: 'givesWay', reach: reach.value } : params,
    )
  }
  return { placing, reach, place, placed }
}
