<script setup lang="ts">
import type { OptionValue, OptionValues, ValueOption } from '../../../core/base/options/option.ts'

/** Options that are ticked, two a row where their words have room. */
defineProps<{ options: readonly ValueOption[]; values: OptionValues }>()
const emit = defineEmits<{ set: [id: string, value: OptionValue] }>()
/** A tick that says nothing of its own is null when it is off. */
const valueOf = (option: ValueOption, on: boolean): OptionValue =>
  option.default === null && !on ? null : on
</script>

<template>
  <div v-if="options.length" class="ticks">
    <el-checkbox
      v-for="option in options"
      :key="option.id"
      :model-value="Boolean(values[option.id])"
      size="small"
      @update:model-value="(on: unknown) => emit('set', option.id, valueOf(option, Boolean(on)))"
      >{{ option.title }}</el-checkbox
    >
  </div>
</template>

<style scoped>
.ticks {
  display: flex;
  flex-wrap: wrap;
  column-gap: 10px;
}
/* two a row where both have room */
.ticks :deep(.el-checkbox) {
  flex: 1 1 45%;
  min-width: max-content;
  margin: 0;
}
.ticks :deep(.el-checkbox__label) {
  padding-left: 6px;
}
</style>
