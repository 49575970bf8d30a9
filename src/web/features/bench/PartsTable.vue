<script setup lang="ts">
import { ref, watch } from 'vue'
import type { PartMark } from '../../../contract/recipes.ts'
import type { MeshInspection } from '../../../core/inspect/inspect-scene.ts'
import { formatCount } from '../../kit/format.ts'
import { useListFocus } from '../../kit/use-list-focus.ts'
import { useLongList } from '../../kit/use-long-list.ts'
import { LABEL_COLORS, ROLE_WORDS } from '../../kit/part-marks.ts'
import { shownName } from '../../../core/base/messages/names-text.ts'

/** The parts with their counts, what becomes of each when the model leaves, and the artist's own label. */
const props = defineProps<{
  parts: readonly { node: number; id: string; name: string; mesh: MeshInspection }[]
  marks: Readonly<Record<string, PartMark>>
  selectedNode: number | null
  /** The gravest finding of each part, if any. */
  graves: ReadonlyMap<number, string>
}>()
const emit = defineEmits<{ select: [node: number | null] }>()
const polygonsOf = (mesh: MeshInspection): number => mesh.faces['3'] + mesh.faces['4'] + mesh.faces.n
const total = (pick: (mesh: MeshInspection) => number): number =>
  props.parts.reduce((sum, part) => sum + pick(part.mesh), 0)
const scroller = ref<HTMLElement>()
const ROW_HEIGHT = 25
const { shown, above, below, bring } = useLongList(
  scroller,
  () => props.parts.length,
  ROW_HEIGHT,
  2 * ROW_HEIGHT,
)
const { focusIn } = useListFocus(scroller, { shown, bring })
/** The row that the keyboard was last moved to: presses that come in before it is drawn go on from there. */
let reached = -1
function onKey(event: KeyboardEvent): void {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
  if (!step) return
  const row = (event.target as HTMLElement).closest<HTMLElement>('[data-row]')
  const next = (row ? Number(row.dataset.row) : reached) + step
  const target = props.parts[next]
  if (!target) return
  event.preventDefault()
  reached = next
  emit('select', target.node)
  focusIn(next, `[data-row="${next}"]`)
}
watch(
  () => props.selectedNode,
  (node) => {
    const index = node === null ? -1 : props.parts.findIndex((part) => part.node === node)
    if (index >= 0) bring(index)
  },
)
</script>

<template>
  <div ref="scroller" class="scroller" tabindex="-1" @keydown="onKey">
    <table :aria-rowcount="parts.length + 2">
      <thead>
        <tr>
          <th>{{ parts.length }} {{ parts.length === 1 ? 'part' : 'parts' }}</th>
          <th class="figure">Vertices</th>
          <th class="figure">Polygons</th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="above" class="room" :style="{ height: `${above}px` }"></tr>
        <tr
          v-for="{ row, index } in shown.flatMap((at) => (parts[at] ? [{ row: parts[at], index: at }] : []))"
          :key="row.node"
          :data-row="index"
          :aria-rowindex="index + 2"
          tabindex="0"
          :aria-selected="row.node === selectedNode"
          :class="{ selected: row.node === selectedNode, home: marks[row.id]?.role === 'home' }"
          @click="emit('select', row.node === selectedNode ? null : row.node)"
          @keydown.enter="emit('select', row.node)"
          @keydown.escape="emit('select', null)"
        >
          <td class="part">
            <i
              class="label"
              :style="{ background: LABEL_COLORS[marks[row.id]?.label ?? 'none'] }"
              :title="marks[row.id]?.label ?? ''"
            ></i>
            {{ shownName(row.name) }}
            <span v-if="marks[row.id] && marks[row.id]!.role !== 'travels'" class="soft role">{{
              ROLE_WORDS[marks[row.id]!.role]
            }}</span>
          </td>
          <td class="figure">{{ formatCount(row.mesh.vertices) }}</td>
          <td class="figure">{{ formatCount(polygonsOf(row.mesh)) }}</td>
        </tr>
        <tr v-if="below" class="room" :style="{ height: `${below}px` }"></tr>
      </tbody>
      <tfoot>
        <tr>
          <td>all</td>
          <td class="figure">{{ formatCount(total((mesh) => mesh.vertices)) }}</td>
          <td class="figure">{{ formatCount(total(polygonsOf)) }}</td>
        </tr>
      </tfoot>
    </table>
  </div>
</template>

<style scoped>
.scroller {
  height: 100%;
  overflow: auto;
  outline: none;
}
.room {
  cursor: default;
}
table {
  table-layout: fixed;
}
th.figure {
  width: 66px;
}
th {
  border-bottom: 1px solid var(--ink);
  padding: 3px 0;
  position: sticky;
  top: 0;
  background: var(--paper);
  z-index: 1;
}
th.figure {
  text-align: right;
}
tbody td {
  height: 25px;
}
td {
  padding: 0;
  border-bottom: 1px solid var(--hairline);
}
tbody tr {
  cursor: pointer;
}
tbody tr:hover {
  background: var(--paper-sunk);
}
tr.selected td {
  background: var(--accent-wash);
  font-weight: 550;
}
tr.home .part {
  text-decoration: line-through;
  text-decoration-color: var(--ink-soft);
}
.part {
  padding-left: 2px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.label {
  display: inline-block;
  width: 8px;
  height: 12px;
  margin-right: 5px;
  vertical-align: -1px;
}
.role {
  font-weight: 400;
  font-size: 11.5px;
  margin-left: 4px;
}
tfoot td {
  position: sticky;
  bottom: 0;
  background: var(--paper);
  border-top: 1px solid var(--ink);
  border-bottom: 0;
  color: var(--ink-soft);
}
</style>
