<script setup lang="ts">
import type { StandInDescriptor, StandInValue } from '../../core/practice/standins/standin.ts'

/** A stand-in's settings, from its own description of them. */
const values = defineModel<Record<string, StandInValue>>({ required: true })
defineProps<{ standIn: StandInDescriptor }>()
const set = (name: string, value: StandInValue): void => {
  values.value = { ...values.value, [name]: value }
}
const shown = (value: number, percent: boolean | undefined): string =>
  percent ? `${(value * 100).toFixed(1)} %` : String(value)
</script>

<template>
  <div class="settings">
    <template v-for="parameter in standIn.parameters" :key="parameter.name">
      <el-checkbox
        v-if="parameter.type === 'boolean'"
        :model-value="Boolean(values[parameter.name])"
        @update:model-value="(on: unknown) => set(parameter.name, Boolean(on))"
        >{{ parameter.title }}</el-checkbox
      >
      <label v-else class="field">
        {{ parameter.title }}
        <template v-if="parameter.type === 'number'">
          <el-slider
            :model-value="Number(values[parameter.name])"
            :min="parameter.min"
            :max="parameter.max"
            :step="parameter.step"
            :format-tooltip="(value: number) => shown(value, parameter.percent)"
            :aria-label="parameter.title"
            @update:model-value="(value: unknown) => set(parameter.name, Number(value))"
          />
          <span class="figure">{{ shown(Number(values[parameter.name]), parameter.percent) }}</span>
        </template>
        <el-select
          v-else-if="parameter.type === 'choice'"
          :model-value="String(values[parameter.name])"
          :persistent="false"
          :aria-label="parameter.title"
          @update:model-value="(value: string) => set(parameter.name, value)"
        >
          <el-option
            v-for="choice in parameter.choices"
            :key="choice.value"
            :label="choice.title"
            :value="choice.value"
          />
        </el-select>
        <el-input
          v-else
          :model-value="String(values[parameter.name])"
          :maxlength="parameter.most"
          :aria-label="parameter.title"
          @update:model-value="(value: string) => set(parameter.name, value)"
        />
      </label>
    </template>
  </div>
</template>

<style scoped>
.settings {
  display: grid;
  justify-items: start;
  margin-top: 12px;
}
.field {
  display: grid;
  grid-template-columns: 220px 250px 60px;
  font-size: 14px;
  gap: 16px;
  align-items: center;
  min-height: 36px;
}
.field > :deep(.el-select) {
  grid-column: 2 / -1;
}
</style>
