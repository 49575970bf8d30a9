import { watch, type Ref } from 'vue'
import type { useLongList } from './use-long-list.ts'

/**
 * Keys in a long list, of which only the rows in view are there: a row that is gone to may not be drawn yet, and the one
 * that had the keyboard may go meanwhile. Until it is there the scroller holds the keyboard, so that no press is lost.
 * @param scroller with `tabindex="-1"`; it takes the keys of all rows.
 */
export function useListFocus(
  scroller: Ref<HTMLElement | undefined>,
  { shown, bring }: Pick<ReturnType<typeof useLongList>, 'shown' | 'bring'>,
) {
  let waiting: string | null = null
  const settle = (): boolean => {
    const element = waiting === null ? null : scroller.value?.querySelector<HTMLElement>(waiting)
    if (!element) return false
    waiting = null
    element.focus()
    return true
  }
  watch(shown, settle, { flush: 'post' })
  return {
    /** @param selector what in the row takes the keyboard. */
    focusIn(index: number, selector: string): void {
      waiting = selector
      bring(index)
      if (!settle()) scroller.value?.focus({ preventScroll: true })
    },
  }
}
