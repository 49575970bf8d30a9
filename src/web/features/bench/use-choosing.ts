import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import {
  EDGE_KINDS,
  FACE_KINDS,
  type Chosen,
  type Clicked,
  type GrowKind,
} from '../../../core/steps/grow-selection.ts'
import { formatCount, formatMeters } from '../../kit/format.ts'
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
  edge: 'edges',
  loop: 'edge loops',
  path: 'shortest way',
  'group-border': 'border of a group',
  corner: 'corners of UVs',
}

/** Kinds of what a click chooses, as they are listed. */
export const MODE_GROUPS: readonly { readonly title: string; readonly kinds: readonly GrowKind[] }[] = [
  { title: 'Polygons', kinds: FACE_KINDS },
  { title: 'Edges', kinds: EDGE_KINDS },
  { title: 'UVs', kinds: ['corner'] },
]

/** Both choices, each part once; of two kinds the later one. An edge is two numbers. */
function together(before: readonly Chosen[], more: readonly Chosen[]): readonly Chosen[] {
  const element = more[0]?.element
  if (!element || before[0]?.element !== element) return more
  const keysOf = new Map<number, Map<string, number[]>>()
  const size = element === 'edges' ? 2 : 1
  for (const { node, elements } of [...before, ...more]) {
    const known = keysOf.get(node) ?? new Map<string, number[]>()
    for (let at = 0; at < elements.length; at += size) {
      const one = Array.from(elements.subarray(at, at + size)).sort((a, b) => a - b)
      known.set(one.join(' '), one)
    }
    keysOf.set(node, known)
  }
  return [...keysOf].map(([node, known]) => {
    const all = [...known.values()].sort((a, b) => a[0]! - b[0]! || (a[1] ?? 0) - (b[1] ?? 0))
    return { node, element, elements: Uint32Array.from(all.flat()) }
  })
}

/** A way's first point, as an edge from a point to itself. */
const isDot = (elements: Uint32Array): boolean => elements.length === 2 && elements[0] === elements[1]

/** How many edges, polygons or corners. */
export const countOfChosen = (
  chosen: readonly { readonly element: string; readonly elements: ArrayLike<number> }[],
): number =>
  chosen.reduce((sum, { element, elements }) => sum + elements.length / (element === 'edges' ? 2 : 1), 0)

export function useChoosing(
  bench: ReturnType<typeof useBench>,
  unitMeters: Ref<number | null>,
  select: (node: number | null) => void,
  failed: (error: unknown) => void,
) {
  const mode = ref<GrowKind>('part')
  /** What is chosen, part by part; null: nothing. */
  const chosen = shallowRef<readonly Chosen[] | null>(null)
  const chosenCount = computed(() => countOfChosen(chosen.value ?? []))
  const chosenSaid = computed(() => {
    const element = chosen.value?.[0]?.element ?? 'faces'
    const count = chosenCount.value
    const [one, more] =
      element === 'faces' ? ['polygon', 'polygons'] : [element.slice(0, -1), element as string]
    if (element === 'edges' && chosen.value?.every(({ elements }) => isDot(elements)))
      return 'the first point'
    return `${formatCount(count)} ${count === 1 ? one : more}`
  })
  const ruling = ref(false)
  const ruler = ref<readonly (readonly [number, number, number])[]>([])
  watch(ruling, (on) => !on && (ruler.value = []))

  /** One click after another: a way's second point waits for its first. */
  let before: Promise<void> = Promise.resolve()
  function pick(picked: Picked): Promise<void> {
    before = before.then(() => choose(picked))
    return before
  }
  async function choose(picked: Picked): Promise<void> {
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
      const clicked: Clicked = {
        node: picked.node,
        face: picked.face,
        corner: picked.nearest?.corner ?? null,
        side: picked.nearest?.side ?? null,
      }
      const grown = mode.value === 'path' ? await walk(clicked, picked.add) : await grow(clicked)
      const isMore = picked.add || (mode.value === 'path' && way?.isWhole)
      chosen.value = isMore && chosen.value ? together(withoutDots(chosen.value), grown) : grown
      select(picked.node)
    } catch (error) {
      failed(error)
    }
  }
  const grow = (clicked: Clicked): Promise<readonly Chosen[]> =>
    bench.ask('grow', { clicked, kind: mode.value })
  /** Where the shortest way goes on from; whole when it has led somewhere. */
  let way: { node: number; point: number; isWhole: boolean } | null = null
  watch(mode, () => (way = null))
  /** The first click begins, the second ends; with Shift it goes on from there. */
  async function walk(clicked: Clicked, goesOn: boolean): Promise<readonly Chosen[]> {
    const [dot] = await grow(clicked)
    const point = dot?.elements[0] ?? 0
    const from = way && way.node === clicked.node && (goesOn || !way.isWhole) ? way.point : null
    way = { node: clicked.node, point, isWhole: from !== null }
    return from === null ? [dot!] : grow({ ...clicked, from })
  }
  /** A way's first point is shown until there is a way. */
  const withoutDots = (all: readonly Chosen[]): readonly Chosen[] =>
    all.map((one) =>
      one.element === 'edges' && isDot(one.elements) ? { ...one, elements: new Uint32Array(0) } : one,
    )

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
  return { mode, chosen, chosenCount, chosenSaid, ruling, ruler, measured, distance, pick }
}
