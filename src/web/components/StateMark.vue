<script setup lang="ts">
import { computed } from 'vue'
import type { TraitState } from '../../core/traits/trait.ts'

/** A trait's state as a mark that can be read without colour; the word goes with it for those who listen. */
const props = defineProps<{ state: TraitState; empty?: boolean; size?: number }>()

const WORDS: Record<TraitState, string> = {
  same: 'same',
  within: 'same within tolerance',
  changed: 'changed',
  lost: 'lost',
  gained: 'gained',
  incomparable: 'not comparable',
}
const word = computed(() => (props.empty ? 'neither has any' : WORDS[props.state]))
const color = computed(
  () =>
    ({
      same: 'var(--same)',
      within: 'var(--same)',
      changed: 'var(--changed)',
      lost: 'var(--lost)',
      gained: 'var(--gained)',
      incomparable: 'var(--ink-soft)',
    })[props.state],
)
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
    <path v-else-if="state === 'same'" d="M4 6.2h8M4 9.8h8" />
    <path
      v-else-if="state === 'within'"
      d="M3.6 6.6c1.5-1.6 3-1.6 4.4 0s2.9 1.6 4.4 0M3.6 10.4c1.5-1.6 3-1.6 4.4 0s2.9 1.6 4.4 0"
    />
    <path v-else-if="state === 'changed'" d="M8 3l5.2 9.6H2.8z" />
    <g v-else-if="state === 'lost'">
      <circle cx="8" cy="8" r="5" stroke-dasharray="2.4 2.2" />
      <path d="M4 12.6L12 3.4" />
    </g>
    <path v-else-if="state === 'gained'" d="M8 3v10M3 8h10" />
    <g v-else>
      <path d="M5.6 6.2c0-3.6 5-3.2 4.7-.2-.2 1.7-2.2 1.8-2.2 3.6" />
      <circle cx="8" cy="12.6" r=".4" />
    </g>
  </svg>
</template>

<style scoped>
.mark {
  display: inline-block;
  vertical-align: -3px;
}
</style>
