import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import type { ChosenFaces, GrowKind } from '../../../core/steps/grow-selection.ts'
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
  'material-everywhere': 'one material, everywhere',
  polygon: 'polygons',
}

/** Both choices, each part once. */
function together(before: readonly ChosenFaces[], more: readonly ChosenFaces[]): ChosenFaces[] {
  const facesOf = new Map<number, Set<number>>()
  for (const { node, faces } of [...before, ...more]) {
    const known = facesOf.get(node) ?? new Set()
    for (const face of faces) known.add(face)
    facesOf.set(node, known)
  }
  return [...facesOf].map(([node, faces]) => ({ node, faces: Uint32Array.from(faces).sort() }))
}

export function useChoosing(
  bench: ReturnType<typeof useBench>,
  unitMeters: Ref<number | null>,
  select: (node: number | null) => void,
  failed: (error: unknown) => void,
) {
  const mode = ref<GrowKind>('part')
  /** What is chosen, part by part; null: nothing. */
  const chosen = shallowRef<readonly ChosenFaces[] | null>(null)
  const chosenCount = computed(() => (chosen.value ?? []).reduce((sum, { faces }) => sum + faces.length, 0))
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
      const grown = await bench.ask('grow', { node: picked.node, face: picked.face, kind: mode.value })
      chosen.value = picked.add && chosen.value ? together(chosen.value, grown) : grown
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
  return { mode, chosen, chosenCount, ruling, ruler, measured, distance, pick }
}
