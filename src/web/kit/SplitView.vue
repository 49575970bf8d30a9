<script setup lang="ts">
import { Pane, Splitpanes } from 'splitpanes'
import 'splitpanes/dist/splitpanes.css'
import { ref } from 'vue'
import { remember, remembered } from './memory.ts'

/** Panes side by side whose widths the artist sets, by mouse or arrow keys; they are remembered by the view's name. */
const props = defineProps<{
  name: string
  /** Of each pane: the slot that fills it, its share of the width in percent, and the least. */
  panes: readonly { readonly slot: string; readonly size: number; readonly least?: number }[]
}>()
/** Percent. */
const LEAST = 12
const key = `panes.${props.name}`
const kept = remembered(
  key,
  (value): value is number[] =>
    Array.isArray(value) &&
    value.length === props.panes.length &&
    value.every((size) => typeof size === 'number' && size > 0),
)
const sizes = ref(kept ?? props.panes.map((pane) => pane.size))
function onResized(event: { panes: { size: number }[] }): void {
  sizes.value = event.panes.map(({ size }) => size)
  remember(key, sizes.value)
}
</script>

<template>
  <Splitpanes class="split-view" :dbl-click-splitter="false" :keyboard-step="2" @resized="onResized">
    <Pane v-for="(pane, at) in panes" :key="pane.slot" :size="sizes[at]" :min-size="pane.least ?? LEAST">
      <slot :name="pane.slot"></slot>
    </Pane>
  </Splitpanes>
</template>

<style>
.split-view {
  height: 100%;
  min-height: 0;
}
.split-view > .splitpanes__pane {
  min-width: 0;
  min-height: 0;
  transition: none;
}
.split-view > .splitpanes__pane > .panel {
  border: 0;
  height: 100%;
}
.split-view > .splitpanes__splitter {
  width: 1px;
  background: var(--hairline);
  position: relative;
  z-index: 2;
}
/* a line to look at, a strip to take hold of */
.split-view > .splitpanes__splitter::before {
  content: '';
  position: absolute;
  inset: 0 -4px;
  cursor: col-resize;
}
.split-view > .splitpanes__splitter:hover,
.split-view > .splitpanes__splitter:focus-visible {
  background: var(--accent);
}
</style>
