import { onBeforeUnmount, onMounted, ref, type Ref } from 'vue'

/** The width of an element in pixels, now and whenever it changes; 0 before it is there. */
export function useWidth(element: Ref<HTMLElement | undefined>): Ref<number> {
  const width = ref(0)
  const observer = new ResizeObserver(([entry]) => (width.value = entry!.contentRect.width))
  onMounted(() => {
    if (!element.value) return
    width.value = element.value.clientWidth
    observer.observe(element.value)
  })
  onBeforeUnmount(() => observer.disconnect())
  return width
}
