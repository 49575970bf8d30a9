<script setup lang="ts">
import type { Severity } from '../../core/base/messages/catalogue.ts'

/** How grave a finding is, by shape: a full square with a bar for a fault, a hollow one for a doubt, a dot for a note. */
defineProps<{ severity: Severity; size?: number }>()
const WORDS: Record<Severity, string> = { error: 'fault', warning: 'doubt', info: 'note' }
const COLORS: Record<Severity, string> = {
  error: 'var(--lost)',
  warning: 'var(--changed)',
  info: 'var(--ink-soft)',
}
</script>

<template>
  <svg
    :width="size ?? 13"
    :height="size ?? 13"
    viewBox="0 0 14 14"
    role="img"
    :aria-label="WORDS[severity]"
    fill="none"
    :stroke="COLORS[severity]"
    stroke-width="2"
  >
    <template v-if="severity === 'error'">
      <rect x="1.5" y="1.5" width="11" height="11" :fill="COLORS.error" />
      <path d="M4 7h6" stroke="var(--paper)" />
    </template>
    <template v-else-if="severity === 'warning'">
      <rect x="1.5" y="1.5" width="11" height="11" stroke-width="1.6" />
      <path d="M4.5 7h5" stroke-width="1.8" />
    </template>
    <circle v-else cx="7" cy="7" r="2" :fill="COLORS.info" />
  </svg>
</template>

<style scoped>
svg {
  flex: none;
  vertical-align: -2px;
}
</style>
