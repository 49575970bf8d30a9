<script setup lang="ts">
/** How well a parameter is carried, by shape: a full bar, a broken one, an empty frame. */
defineProps<{ how: 'exact' | 'approximate' | 'none' }>()
const WORDS = { exact: 'exact', approximate: 'approximate', none: 'without a place' } as const
</script>

<template>
  <svg
    width="18"
    height="10"
    viewBox="0 0 18 10"
    role="img"
    :aria-label="WORDS[how]"
    class="fate"
    :class="how"
  >
    <path v-if="how === 'exact'" d="M1 5h16" />
    <path v-else-if="how === 'approximate'" d="M1 5h4m3 0h3m3 0h3" />
    <rect v-else x="1.5" y="1.5" width="15" height="7" />
  </svg>
</template>

<style scoped>
.fate {
  fill: none;
  stroke-width: 2.4;
  vertical-align: -1px;
}
.exact {
  stroke: var(--same);
}
.approximate {
  stroke: var(--changed);
}
.none {
  stroke: var(--lost);
  stroke-width: 1.4;
}
</style>
