<script setup lang="ts">
/** A trip: out from one stop and home to another. */
defineProps<{ width: number }>()
</script>

<template>
  <svg :width="width" :height="(width * 22) / 26" viewBox="0 0 32 28" aria-hidden="true">
    <path d="M2 22h28" stroke="var(--ink)" stroke-width="2" fill="none" />
    <path d="M8 22C8 6 24 6 24 22" stroke="var(--accent)" stroke-width="2.4" fill="none" />
    <circle cx="8" cy="22" r="3.4" fill="var(--paper)" stroke="var(--ink)" stroke-width="2" />
    <circle cx="24" cy="22" r="3.4" fill="var(--ink)" />
  </svg>
</template>
