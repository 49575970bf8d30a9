<script setup lang="ts">
import { ref, watch } from 'vue'
import { drawHistogram } from './histogram.ts'

/** How values are spread. */
const props = defineProps<{ values: Float64Array; title: string; of: string }>()
const box = ref<HTMLElement>()
watch(
  () => [props.values, box.value] as const,
  ([values, element]) => {
    if (element) void drawHistogram(element, values, props.title, props.of)
  },
  { immediate: true },
)
</script>

<template>
  <div ref="box" class="chart" role="img" :aria-label="`Distribution: ${title}`"></div>
</template>

<style scoped>
.chart {
  height: 104px;
}
</style>
