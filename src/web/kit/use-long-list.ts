import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, type Ref } from 'vue'

/**
 * Rows of a long table: only those that can be seen are there, and room is kept for the others above and below.
 * @param scroller the element that scrolls; @param rowHeight pixels.
 * @param covered pixels of the scroller that its heading and its foot, which stay in view, take from the rows.
 */
export function useLongList(
  scroller: Ref<HTMLElement | undefined>,
  count: () => number,
  rowHeight: number,
  covered: number,
) {
  const virtualizer = useVirtualizer(
    computed(() => ({
      count: count(),
      getScrollElement: () => scroller.value ?? null,
      estimateSize: () => rowHeight,
      overscan: 12,
      // rows begin below the heading, and end above the foot
      scrollPaddingEnd: covered,
    })),
  )
  const shown = computed(() => virtualizer.value.getVirtualItems().map(({ index }) => index))
  const above = computed(() => virtualizer.value.getVirtualItems()[0]?.start ?? 0)
  const below = computed(() => {
    const last = virtualizer.value.getVirtualItems().at(-1)
    return last ? virtualizer.value.getTotalSize() - last.end : 0
  })
  return {
    shown,
    above,
    below,
    /** Brings a row into view, so that it is there. */
    bring: (index: number): void => virtualizer.value.scrollToIndex(index, { align: 'auto' }),
  }
}
