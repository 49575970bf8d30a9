import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import type { GrowKind } from '../../../core/steps/grow-selection.ts'
import { formatMeters } from '../../kit/format.ts'
import type { useBench } from './use-bench.ts'
import type { Picked } from '../../kit/use-viewer.ts'

/** What a click in the views chooses, and the ruler between two clicks. */
export const MODE_WORDS: Readonly<Record<GrowKind, string>> = {
  part: 'parts',
  piece: 'connected pieces',
  island: 'UV islands',
  group: 'face groups',
  material: 'one material',
  polygon: 'polygons',
}

export function useChoosing(
  bench: ReturnType<typeof useBench>,
  unitMeters: Ref<number | null>,
  select: (node: number | null) => void,
  failed: (error: unknown) => void,
) {
  const mode = ref<GrowKind>('part')
  const chosen = shallowRef<{ node: number; faces: Uint32Array } | null>(null)
  const ruling = ref(false)
  const ruler = ref<readonly (readonly [number, number, number])[]>([])
  watch(ruling, (on) => !on && (ruler.value = []))

  async function pick(picked: Picked): Promise<void> {
    if (ruling.value) {
      if (picked.corner)
        ruler.value = ruler.value.length === 1 ? [...ruler.value, picked.corner] : [picked.corner]
      return
    }
    if (picked.node === null || picked.face === null) {
      chosen.value = null
      select(null)
      return
    }
    try {
      const faces = await bench.ask('grow', { node: picked.node, face: picked.face, kind: mode.value })
      const more =
        picked.add && chosen.value?.node === picked.node ? [...chosen.value.faces, ...faces] : faces
      chosen.value = { node: picked.node, faces: Uint32Array.from(new Set(more)).sort() }
      select(picked.node)
    } catch (error) {
      failed(error)
    }
  }
  /** Between the ruler's ends, in the file's unit; null without both, or where they are one. */
  const measured = computed(() => {
    const [a, b] = ruler.value
    return a && b ? Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) || null : null
  })
  const distance = computed(() => {
    const units = measured.value
    if (units === null) return ruler.value.length === 2 ? 'one place' : null
    return unitMeters.value === null
      ? `${Number(units.toPrecision(5))} units`
      : formatMeters(units * unitMeters.value)
  })
  return { mode, chosen, ruling, ruler, measured, distance, pick }
}
