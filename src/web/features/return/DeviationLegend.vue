<script setup lang="ts">
import { computed } from 'vue'
import { readableNumber } from '../../../core/base/messages/render.ts'
import { FIELD_STOPS } from '../../../core/view/highlight.ts'
import type { FieldKind } from './use-shown-places.ts'
import HistogramChart from '../../kit/HistogramChart.vue'

/** What the colours of moved points mean, in the model's own unit, and how many moved how far. */
const props = defineProps<{ kind: FieldKind; most: number; unit: string; values: Float64Array }>()
const words = computed(() =>
  props.kind === 'moved'
    ? {
        title: 'How far points moved',
        grey: 'grey: without counterpart',
        chart: 'points by how far they moved',
        of: 'moved by',
      }
    : {
        title: 'How far the surfaces lie apart',
        grey: 'grey: on no polygon',
        chart: 'points by their distance',
        of: 'apart by',
      },
)
const stops = computed(() =>
  FIELD_STOPS.map((color) => `rgb(${color.map((value) => Math.round(value * 255)).join(' ')})`).join(', '),
)
const ticks = computed(() =>
  [0, 0.5, 1].map(
    (share) =>
      `${readableNumber(Number((share * props.most).toPrecision(3)))}${share === 1 ? props.unit : ''}`,
  ),
)
</script>

<template>
  <div class="legend" data-test="deviation">
    <div class="scale">
      <b>{{ words.title }}</b>
      <i :style="{ background: `linear-gradient(to right, ${stops})` }"></i>
      <span
        ><em v-for="tick in ticks" :key="tick">{{ tick }}</em></span
      >
      <small class="soft">{{ words.grey }}</small>
    </div>
    <HistogramChart :values="values" :title="words.chart" :of="`${words.of}${unit}`" />
  </div>
</template>

<style scoped>
.legend {
  display: grid;
  grid-template-columns: minmax(150px, 2fr) minmax(0, 3fr);
  gap: 16px;
  align-items: center;
  padding: 8px 14px;
}
.scale {
  display: grid;
  gap: 4px;
}
.scale i {
  height: 12px;
  border: 1px solid var(--hairline);
}
.scale span {
  display: flex;
  justify-content: space-between;
}
.scale em {
  font-style: normal;
  font-variant-numeric: tabular-nums;
}
</style>
