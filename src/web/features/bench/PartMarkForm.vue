<script setup lang="ts">
import {
  PART_LABELS,
  PART_ROLES,
  type PartLabel,
  type PartMark,
  type PartRole,
} from '../../../contract/recipes.ts'
import { LABEL_COLORS, ROLE_WORDS } from '../../kit/part-marks.ts'

/** What becomes of a part when the model leaves, and a label of the artist's own. */
defineProps<{ mark: PartMark }>()
const emit = defineEmits<{ change: [change: { role?: PartRole; label?: PartLabel }] }>()
</script>

<template>
  <div class="mark">
    <el-radio-group
      :model-value="mark.role"
      size="small"
      aria-label="What becomes of the part"
      @update:model-value="(role: unknown) => emit('change', { role: role as PartRole })"
    >
      <el-radio-button v-for="role in PART_ROLES" :key="role" :value="role">{{
        ROLE_WORDS[role]
      }}</el-radio-button>
    </el-radio-group>
    <div class="labels" role="radiogroup" aria-label="Label">
      <button
        v-for="label in PART_LABELS"
        :key="label"
        class="plain"
        role="radio"
        :aria-checked="mark.label === label"
        :aria-label="label"
        :title="label"
        :class="{ on: mark.label === label, none: label === 'none' }"
        :style="{ background: LABEL_COLORS[label] }"
        @click="emit('change', { label })"
      ></button>
    </div>
  </div>
</template>

<style scoped>
.mark {
  display: grid;
  gap: 7px;
  margin: 6px 0 12px;
}
.mark :deep(.el-radio-button__inner) {
  padding: 5px 9px;
}
.labels {
  display: flex;
  gap: 5px;
  /* room for the line round the chosen one */
  padding: 3px;
}
.labels button {
  width: 22px;
  height: 15px;
  border: 1px solid var(--hairline);
}
.labels .none {
  background: linear-gradient(
    to top right,
    transparent 46%,
    var(--ink-soft) 47%,
    var(--ink-soft) 53%,
    transparent 54%
  ) !important;
}
.labels .on {
  outline: 2px solid var(--ink);
  outline-offset: 1px;
}
</style>
