<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ForecastResult } from '../../../contract/api.ts'
import { scaleForHeight } from '../../../core/trips/size.ts'
import { UNITS } from '../../../core/formats/common-options.ts'
import { formatMeters } from '../../kit/format.ts'

/** How large the receiving tool will show the model, where that size stands in the file, and what makes it right. */
const props = defineProps<{ size: ForecastResult['size']; scale: number; toolReads: 'stated' | 'numbers' }>()
const emit = defineEmits<{ scale: [scale: number] }>()

const figure = (value: number): string => String(Number(value.toPrecision(5)))
const stated = computed(() =>
  props.size.statedUnit === null
    ? 'none'
    : (UNITS.find((unit) => unit.meters === props.size.statedUnit)?.one ??
      `${figure(props.size.statedUnit)} m`),
)
const isWrong = computed(() => props.size.factor !== null && Math.abs(props.size.factor - 1) > 1e-3)
const wanted = ref<number | undefined>()
const exact = computed(() => (wanted.value ? scaleForHeight(props.size, wanted.value, props.scale) : null))
</script>

<template>
  <div class="size">
    <p v-if="size.seenMeters !== null" class="seen" :class="{ wrong: isWrong }" data-test="seen">
      {{ formatMeters(size.seenMeters) }} tall
      <span>{{
        isWrong && size.meters !== null
          ? `in the tool; the version is ${formatMeters(size.meters)}`
          : 'is what the tool will show'
      }}</span>
    </p>
    <table>
      <tbody>
        <tr>
          <td>Unit in the file</td>
          <td class="figure">{{ stated }}</td>
        </tr>
        <tr>
          <td>Scale on the roots</td>
          <td class="figure">{{ figure(size.rootScale) }}</td>
        </tr>
        <tr>
          <td>Height in the points</td>
          <td class="figure">{{ figure(size.pointsHeight) }}</td>
        </tr>
        <tr>
          <td>The tool goes by</td>
          <td class="figure">{{ toolReads === 'stated' ? 'the stated unit' : 'the numbers' }}</td>
        </tr>
      </tbody>
    </table>
    <el-button v-if="isWrong" size="small" type="primary" plain @click="emit('scale', scale * size.factor!)"
      >Scale by {{ figure(size.factor!) }} to make it right</el-button
    >
    <div class="real">
      <label
        >Real height
        <el-input-number
          v-model="wanted"
          size="small"
          :controls="false"
          :min="1e-6"
          placeholder="metres"
          aria-label="Real height in metres"
        />
        m</label
      >
      <el-button v-if="exact" size="small" @click="emit('scale', exact)"
        >Scale × {{ figure(exact) }}</el-button
      >
    </div>
  </div>
</template>

<style scoped>
.seen {
  margin: 2px 0 4px;
  font-size: 17px;
  font-weight: 600;
}
.seen span {
  font-size: 12px;
  font-weight: 400;
  color: var(--ink-soft);
}
.seen.wrong {
  color: var(--lost);
}
.seen.wrong span {
  display: block;
}
td:first-child {
  white-space: nowrap;
}
td {
  padding: 2px 0;
  border-bottom: 1px solid var(--hairline);
}
.size > .el-button {
  margin-top: 8px;
}
.real {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
  margin-top: 6px;
}
.real :deep(.el-input-number) {
  width: 84px;
}
</style>
