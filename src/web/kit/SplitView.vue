<script setup lang="ts">
import { Pane, Splitpanes } from 'splitpanes'
import 'splitpanes/dist/splitpanes.css'
import { onMounted, ref } from 'vue'
import { remember, remembered } from './memory.ts'

/** Panes side by side whose widths the artist sets; they are remembered by the name of the view. */
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

/** Percent that an arrow key moves a line by. */
const STEP = 2
const box = ref<HTMLElement>()
/** Lines between panes by keyboard: they are found by the mouse alone otherwise. */
onMounted(() => {
  box.value
    ?.querySelectorAll<HTMLElement>(':scope > .split-view > .splitpanes__splitter')
    .forEach((line, at) => {
      line.tabIndex = 0
      line.setAttribute('role', 'separator')
      line.setAttribute('aria-orientation', 'vertical')
      line.setAttribute('aria-label', 'Width of the panes beside; arrow keys move it')
      line.addEventListener('keydown', (event) => {
        const by = event.key === 'ArrowLeft' ? -STEP : event.key === 'ArrowRight' ? STEP : 0
        if (by === 0) return
        event.preventDefault()
        move(at, by)
      })
    })
})
function move(line: number, by: number): void {
  const next = [...sizes.value]
  next[line]! += by
  next[line + 1]! -= by
  const least = (at: number): number => props.panes[at]!.least ?? LEAST
  if (next[line]! < least(line) || next[line + 1]! < least(line + 1)) return
  sizes.value = next
  remember(key, next)
}
</script>

<template>
  <div ref="box" class="split-box">
    <Splitpanes class="split-view" :dbl-click-splitter="false" @resized="onResized">
      <Pane v-for="(pane, at) in panes" :key="pane.slot" :size="sizes[at]" :min-size="pane.least ?? LEAST">
        <slot :name="pane.slot"></slot>
      </Pane>
    </Splitpanes>
  </div>
</template>

<style>
.split-box {
  height: 100%;
  min-height: 0;
}
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
