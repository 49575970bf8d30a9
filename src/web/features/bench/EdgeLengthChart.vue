<script setup lang="ts">
import { ref, watch } from 'vue'
import { drawHistogram } from '../../kit/histogram.ts'

/** How a part's edge lengths are spread: a single long tail shows stretched polygons at once. */
const props = defineProps<{
  node: number
  unitMeters: number | null
  /** Lengths of a part's edges, the file's unit. */
  lengthsOf: (node: number) => Promise<Float64Array | null>
}>()
const box = ref<HTMLElement>()

watch(
  () => props.node,
  async (node) => {
    const lengths = await props.lengthsOf(node)
    if (!lengths || !box.value || node !== props.node) return
    const millimetres = props.unitMeters !== null
    const values = millimetres ? lengths.map((length) => length * 1000 * props.unitMeters!) : lengths
    await drawHistogram(box.value, values, `Edge length, ${millimetres ? 'mm' : 'units'}`, 'edges')
  },
  { immediate: true },
)
</script>

<template>
  <div>
    <div ref="box" class="chart" role="img" aria-label="Distribution of edge lengths"></div>
  </div>
</template>

<style scoped>
.chart {
  height: 116px;
}
</style>
