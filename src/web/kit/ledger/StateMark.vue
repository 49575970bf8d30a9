<script setup lang="ts">
import { STATE_WORDS, type TraitState } from '../../../core/compare/traits/trait.ts'
import MarkFrame from './MarkFrame.vue'

/** A trait's state as a mark that can be read without colour; the word goes with it for those who listen. */
defineProps<{ state: TraitState; empty?: boolean; size?: number }>()

const COLORS: Record<TraitState, string> = {
  same: 'var(--same)',
  within: 'var(--same)',
  changed: 'var(--changed)',
  guess: 'var(--changed)',
  lost: 'var(--lost)',
  gained: 'var(--gained)',
  without: 'var(--ink-soft)',
  incomparable: 'var(--ink-soft)',
}
</script>

<template>
  <MarkFrame
    :word="empty ? 'neither has any' : STATE_WORDS[state]"
    :color="COLORS[state]"
    :empty="empty"
    :size="size"
  >
    <path v-if="state === 'same'" d="M4 6.2h8M4 9.8h8" />
    <path
      v-else-if="state === 'within'"
      d="M3.6 6.6c1.5-1.6 3-1.6 4.4 0s2.9 1.6 4.4 0M3.6 10.4c1.5-1.6 3-1.6 4.4 0s2.9 1.6 4.4 0"
    />
    <path v-else-if="state === 'changed'" d="M8 3l5.2 9.6H2.8z" />
    <path v-else-if="state === 'guess'" d="M4.6 9.4L8 3l3.4 6.4M3.6 12.6h.1M8 12.6h.1M12.4 12.6h.1" />
    <path v-else-if="state === 'without'" d="M3.4 8h3M9.6 8h3M8 4.6v1.2M8 10.2v1.2" />
    <g v-else-if="state === 'lost'">
      <circle cx="8" cy="8" r="5" stroke-dasharray="2.4 2.2" />
      <path d="M4 12.6L12 3.4" />
    </g>
    <path v-else-if="state === 'gained'" d="M8 3v10M3 8h10" />
    <g v-else>
      <path d="M5.6 6.2c0-3.6 5-3.2 4.7-.2-.2 1.7-2.2 1.8-2.2 3.6" />
      <circle cx="8" cy="12.6" r=".4" />
    </g>
  </MarkFrame>
</template>
