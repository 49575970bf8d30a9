<script setup lang="ts">
import { ref } from 'vue'
import type { MaterialSheetDocument } from '../../../contract/surfaces.ts'
import { formatChange } from '../../kit/format.ts'

/** The asset's materials: one is looked at; with Ctrl or Shift several are chosen, for rules that are for all of them. */
const props = defineProps<{
  sheets: readonly MaterialSheetDocument[]
  titleOf: (id: string) => string
}>()
const emit = defineEmits<{ drop: [material: string, files: File[]] }>()
/** The one that is looked at. */
const chosen = defineModel<number>('chosen', { required: true })
/** Those that are chosen; empty: only the one that is looked at. */
const also = defineModel<ReadonlySet<number>>('also', { required: true })

function onClick(index: number, event: MouseEvent): void {
  const next = new Set(also.value)
  if (event.shiftKey) {
    for (let at = Math.min(index, chosen.value); at <= Math.max(index, chosen.value); at++) next.add(at)
    also.value = next
    return
  }
  if (!event.ctrlKey && !event.metaKey) {
    also.value = new Set()
    chosen.value = index
    return
  }
  next.add(chosen.value)
  if (next.has(index) && next.size > 1) next.delete(index)
  else next.add(index)
  also.value = next
  chosen.value = next.has(index) ? index : next.has(chosen.value) ? chosen.value : [...next][0]!
}
/** Where images are held over. */
const over = ref(-1)
function onDrop(material: string, event: DragEvent): void {
  over.value = -1
  const files = [...(event.dataTransfer?.files ?? [])]
  if (files.length) emit('drop', material, files)
}
const mapCount = (index: number): number =>
  new Set(props.sheets[index]?.parameters.flatMap(({ map }) => map ?? [])).size
const lostCount = (index: number): number => props.sheets[index]?.lost.length ?? 0
</script>

<template>
  <ul class="list" aria-label="Materials">
    <li v-for="(one, index) in sheets" :key="one.material">
      <button
        type="button"
        :class="{ chosen: chosen === index, also: also.has(index), over: over === index }"
        :data-takes-drop="!one.drawnFrom || undefined"
        :aria-pressed="chosen === index || also.has(index)"
        @click="onClick(index, $event)"
        @dragover="over = one.drawnFrom ? -1 : index"
        @dragleave="over = -1"
        @drop="!one.drawnFrom && onDrop(one.material, $event)"
      >
        <b>{{ one.material }}</b>
        <small class="soft">
          <template v-if="one.drawnFrom"
            >drawn from {{ one.drawnFrom.length }}
            {{ one.drawnFrom.length === 1 ? 'material' : 'materials' }}</template
          >
          <template v-else
            >{{ titleOf(one.from.model)
            }}<template v-if="one.from.how !== 'stated'"
              >, {{ one.from.how }} by its names</template
            ></template
          >
        </small>
        <small class="soft">
          {{ formatChange(one.polygons, 'polygons') }}, {{ mapCount(index) }}
          {{ mapCount(index) === 1 ? 'map' : 'maps'
          }}<span v-if="lostCount(index)" class="without">, {{ lostCount(index) }} without a place</span>
        </small>
      </button>
    </li>
  </ul>
  <p v-if="sheets.length > 1" class="soft several">
    {{
      also.size > 1
        ? `${also.size} chosen: a row by hand may be for all of them.`
        : 'Ctrl or Shift with a click chooses several.'
    }}
  </p>
</template>

<style scoped>
.list {
  list-style: none;
  margin: 0 -16px;
  padding: 0;
}
.list button {
  display: grid;
  width: 100%;
  text-align: left;
  font: inherit;
  color: inherit;
  border: 0;
  border-left: 3px solid transparent;
  background: none;
  padding: 7px 16px 7px 13px;
  cursor: pointer;
}
.list button:hover {
  background: var(--paper-sunk);
}
.list .chosen {
  background: var(--accent-wash);
  border-left-color: var(--accent);
}
.list .over {
  outline: 2px solid var(--accent);
  outline-offset: -2px;
}
.list .also {
  background: var(--accent-wash);
}
.several {
  margin: 6px 0 0;
  font-size: 12px;
}
.list b {
  font-weight: 600;
  overflow-wrap: anywhere;
}
.without {
  color: var(--lost);
}
</style>
