<script setup lang="ts">
import { onBeforeUnmount, ref, watch } from 'vue'
import { drawHistogram } from '../composables/histogram.ts'
import MeasureWorker from '../workers/measure.worker.ts?worker'

/** How a part's edge lengths are spread: a single long tail shows stretched polygons at once. */
const props = defineProps<{ sceneId: string; node: number; unitMeters: number | null }>()
const box = ref<HTMLElement>()
const failure = ref('')
let worker: Worker | null = null

watch(
  () => [props.sceneId, props.node] as const,
  ([sceneId, node]) => {
    worker?.terminate()
    worker = new MeasureWorker()
    worker.onmessage = (event: MessageEvent<{ lengths?: Float64Array; failure?: string }>) => {
      failure.value = event.data.failure ?? ''
      if (!event.data.lengths || !box.value) return
      const millimetres = props.unitMeters !== null
      const values = millimetres ? event.data.lengths.map((length) => length * 1000) : event.data.lengths
      void drawHistogram(box.value, values, `Edge length, ${millimetres ? 'mm' : 'units'}`, 'edges')
    }
    worker.postMessage({ sceneId, node, unitMeters: props.unitMeters })
  },
  { immediate: true },
)
onBeforeUnmount(() => worker?.terminate())
</script>

<template>
  <div>
    <div ref="box" class="chart" role="img" aria-label="Distribution of edge lengths"></div>
    <p v-if="failure" class="soft">{{ failure }}</p>
  </div>
</template>

<style scoped>
.chart {
  height: 116px;
}
</style>
