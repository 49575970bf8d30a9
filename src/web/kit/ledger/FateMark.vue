<script setup lang="ts">
import { FATE_WORDS, type Fate } from '../../../core/trips/fate.ts'
import MarkFrame from './MarkFrame.vue'

/** What becomes of a trait on its way out, as a mark that can be read without colour. */
defineProps<{ fate: Fate; empty?: boolean; size?: number }>()

const COLORS: Record<Fate, string> = {
  carried: 'var(--same)',
  otherwise: 'var(--changed)',
  kept: 'var(--gained)',
  lost: 'var(--lost)',
}
</script>

<template>
  <MarkFrame
    :word="empty ? 'the part has none' : FATE_WORDS[fate]"
    :color="COLORS[fate]"
    :empty="empty"
    :size="size"
  >
    <path v-if="fate === 'carried'" d="M2.6 8h10M9 4.4L12.8 8 9 11.6" />
    <path v-else-if="fate === 'otherwise'" d="M2.6 10.4c2.4 0 3-4.8 5.4-4.8s2.4 4.8 5.4 4.8M3 5h2M11 5h2" />
    <g v-else-if="fate === 'kept'">
      <path d="M3.4 8.2L8 4l4.6 4.2" />
      <path d="M5 8.4v4h6v-4" />
    </g>
    <g v-else>
      <circle cx="8" cy="8" r="5" stroke-dasharray="2.4 2.2" />
      <path d="M4 12.6L12 3.4" />
    </g>
  </MarkFrame>
</template>
