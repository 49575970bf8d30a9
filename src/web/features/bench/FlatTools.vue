<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import type { OptionValues } from '../../../core/base/options/option.ts'
import type { UvFieldKind, UvFields } from '../../../core/uv/uv-fields.ts'
import HistogramChart from '../../kit/HistogramChart.vue'

/** What the flat view offers: colours over the islands with their legend, and placing of what is chosen. */
const props = defineProps<{
  /** What is chosen, in words; null: nothing that can be placed. */
  chosen: string | null
  fields: UvFields
  unitMeters: number | null
  /** What is chosen are corners, or edges, which are drawn by theirs. */
  draws: boolean
}>()
const emit = defineEmits<{ place: [params: OptionValues]; exactly: [] }>()
/** How far from drawn corners others give way, tiles; null: they stay. */
const reach = defineModel<number | null>('reach', { required: true })
const REACHES = [
  [0.05, 'near ones give way'],
  [0.2, 'farther ones too'],
  [1000, 'all of the island'],
] as const
const field = defineModel<UvFieldKind | 'none'>('field', { required: true })

const ALIGNMENTS = [
  ['left', 'at the left'],
  ['right', 'at the right'],
  ['bottom', 'at the bottom'],
  ['top', 'at the top'],
  ['middleU', 'one above the other'],
  ['middleV', 'side by side'],
] as const
const showsChart = ref(false)
watch(field, (kind) => kind === 'none' && (showsChart.value = false))

const values = shallowRef(new Float64Array(0))
watch(
  () => props.fields,
  ({ fields }) => {
    values.value = Float64Array.from(
      fields.flatMap(({ values: own }) => Array.from(own).filter((value) => Number.isFinite(value))),
    )
  },
  { immediate: true },
)
/** Share of the surface that is far from even. */
const far = computed(() => {
  let [all, off] = [0, 0]
  for (const { values: own, areas } of props.fields.fields)
    own.forEach((value, face) => {
      if (!Number.isFinite(value)) return
      all += areas[face]!
      if (value > 1.5 || value < 1 / 1.5) off += areas[face]!
    })
  return all > 0 ? off / all : null
})
/** The map size at which densities are said. */
const MAP_SIZE = 2048
const evenWords = computed(() => {
  const { even } = props.fields
  if (field.value !== 'density' || even === null) return ''
  const { unitMeters } = props
  const pixels = (even * MAP_SIZE * (unitMeters === null ? 1 : 0.01)) / (unitMeters ?? 1)
  return `; even is ${Number(pixels.toPrecision(3))} pixels a ${unitMeters === null ? 'unit' : 'centimetre'} on a map of ${MAP_SIZE}`
})
const TICKS: Record<UvFieldKind, readonly string[]> = {
  density: ['¼', '½', 'even', '2×', '4×'],
  stretch: ['', '', 'even', '2×', '4×'],
}
</script>

<template>
  <div class="tools">
    <div v-if="chosen" class="row" role="toolbar" aria-label="Place what is chosen">
      <span class="soft">{{ chosen }}</span>
      <el-button size="small" title="A quarter to the left" @click="emit('place', { turn: 90 })"
        >Turn</el-button
      >
      <el-button size="small" title="Left and right change places" @click="emit('place', { mirror: 'u' })"
        >Mirror</el-button
      >
      <el-dropdown
        trigger="click"
        size="small"
        :persistent="false"
        @command="(align: string) => emit('place', { align })"
      >
        <el-button size="small">Line up</el-button>
        <template #dropdown>
          <el-dropdown-menu>
            <el-dropdown-item v-for="[id, words] in ALIGNMENTS" :key="id" :command="id">{{
              words
            }}</el-dropdown-item>
          </el-dropdown-menu>
        </template>
      </el-dropdown>
      <el-button size="small" title="By figures" @click="emit('exactly')">By figures</el-button>
      <el-select
        v-if="draws"
        v-model="reach"
        :persistent="false"
        size="small"
        aria-label="What gives way while corners are drawn"
        placeholder="others stay"
        clearable
      >
        <template #label>{{ REACHES.find(([tiles]) => tiles === reach)?.[1] }}</template>
        <el-option v-for="[tiles, words] in REACHES" :key="tiles" :label="words" :value="tiles" />
      </el-select>
    </div>
    <div class="row">
      <label>
        <span class="soft">Colours</span>
        <el-select v-model="field" :persistent="false" size="small" aria-label="What the colours show">
          <el-option label="none" value="none" />
          <el-option label="texel density" value="density" />
          <el-option label="stretch" value="stretch" />
        </el-select>
      </label>
      <template v-if="field !== 'none'">
        <div
          class="legend"
          role="img"
          :aria-label="
            field === 'density'
              ? 'From a quarter of the even density, blue, to four times, orange'
              : 'From even, pale, to four times as long one way, orange'
          "
        >
          <i :class="field"></i>
          <span v-for="(tick, at) in TICKS[field]" :key="at">{{ tick }}</span>
        </div>
        <el-button size="small" text @click="showsChart = !showsChart">Chart</el-button>
      </template>
    </div>
    <p v-if="field !== 'none' && far !== null" class="soft figure-line">
      {{ Math.round((1 - far) * 1000) / 10 }} % of the surface within 1.5 times of even{{ evenWords }}
    </p>
    <HistogramChart
      v-if="showsChart && field !== 'none' && values.length"
      :values="values"
      :title="field === 'density' ? 'texel density, even is 1' : 'longer one way than the other, times'"
      of="polygons"
    />
  </div>
</template>

<style scoped>
.tools {
  display: grid;
  gap: 4px;
  padding: 5px 10px;
  background: var(--paper);
  border-top: 1px solid var(--hairline);
  font-size: 11.5px;
}
.row,
.row label {
  display: flex;
  align-items: center;
  gap: 6px;
  flex-wrap: wrap;
}
.row :deep(.el-button + .el-button) {
  margin-left: 0;
}
.row :deep(.el-button) {
  padding: 1px 8px;
}
.row :deep(.el-select) {
  width: 112px;
}
.figure-line {
  margin: 0;
}
.legend {
  display: grid;
  grid-template-columns: repeat(5, 1fr);
  width: 132px;
  font-size: 10px;
  text-align: center;
}
.legend i {
  grid-column: 1 / -1;
  height: 7px;
  border: 1px solid var(--hairline);
}
/* the colours of core/view/highlight.ts */
.legend i.density {
  background: linear-gradient(to right, #1a4d9e, #dbdbdb, #cc4505);
}
.legend i.stretch {
  background: linear-gradient(to right, #dbdbdb 50%, #cc4505);
}
</style>
