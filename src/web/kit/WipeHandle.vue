<script setup lang="ts">
import { ref } from 'vue'

/** A line across a picture that is dragged, or moved by arrow keys, to see more of either side. */
const share = defineModel<number>({ required: true })
defineProps<{ sides: readonly [string, string] }>()

/** Some of either side is always there to be seen. */
const LEAST = 0.02
const STEP = 0.05
const held = ref(false)
const within = (value: number): number => Math.min(1 - LEAST, Math.max(LEAST, value))

function take(event: PointerEvent): void {
  held.value = true
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
}
function move(event: PointerEvent): void {
  if (!held.value) return
  const box = (event.currentTarget as HTMLElement).parentElement!.getBoundingClientRect()
  share.value = within((event.clientX - box.left) / box.width)
}
</script>

<template>
  <div
    class="wipe"
    role="slider"
    tabindex="0"
    aria-label="Wipe between before and after"
    :aria-valuenow="Math.round(share * 100)"
    :style="{ left: `${share * 100}%` }"
    @pointerdown="take"
    @pointermove="move"
    @pointerup="held = false"
    @keydown.left.stop="share = within(share - STEP)"
    @keydown.right.stop="share = within(share + STEP)"
  >
    <span class="before">{{ sides[0] }}</span><span class="after">{{ sides[1] }}</span>
  </div>
</template>

<style scoped>
.wipe {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 15px;
  margin-left: -7px;
  cursor: ew-resize;
  touch-action: none;
}
.wipe::before {
  content: '';
  position: absolute;
  left: 7px;
  top: 0;
  bottom: 0;
  width: 1.5px;
  background: var(--paper-raised);
}
.before,
.after {
  position: absolute;
  bottom: 10px;
  white-space: nowrap;
  color: #17181b;
  background: rgb(247 244 237 / 82%);
  padding: 1px 7px;
  border-radius: 2px;
  font-size: 11.5px;
  pointer-events: none;
}
.before {
  right: 14px;
}
.after {
  left: 15px;
}
</style>
