<script setup lang="ts">
/** The frame of a mark: its size, its line, its word for those who listen; the shape is handed in. */
defineProps<{
  word: string
  color: string
  /** There is nothing to tell: a dot in place of the shape. */
  empty?: boolean
  size?: number
}>()
</script>

<template>
  <svg
    class="mark"
    :width="size ?? 16"
    :height="size ?? 16"
    viewBox="0 0 16 16"
    role="img"
    :aria-label="word"
    fill="none"
    :stroke="color"
    stroke-width="1.7"
    stroke-linecap="round"
    stroke-linejoin="round"
  >
    <circle v-if="empty" cx="8" cy="8" r="1" fill="var(--hairline)" stroke="var(--hairline)" />
    <slot v-else />
  </svg>
</template>

<style scoped>
.mark {
  display: inline-block;
  vertical-align: -3px;
}
</style>
