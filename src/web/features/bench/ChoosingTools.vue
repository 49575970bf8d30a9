<script setup lang="ts">
import { formatCount } from '../../kit/format.ts'
import { MODE_GROUPS, MODE_WORDS, type useChoosing } from './use-choosing.ts'

/** What a click in the views chooses, and the ruler. */
const props = defineProps<{ choosing: ReturnType<typeof useChoosing> }>()
const emit = defineEmits<{ knownSize: [measured: number] }>()
const { mode, chosen, chosenCount, ruling, ruler, measured, distance } = props.choosing
</script>

<template>
  <!-- a click measures or chooses, never both -->
  <label v-if="!ruling" class="choose">
    <span class="soft word">Choose</span>
    <el-select v-model="mode" :persistent="false" size="small" aria-label="What a click chooses">
      <template #label>{{ MODE_WORDS[mode] }}</template>
      <el-option-group v-for="group in MODE_GROUPS" :key="group.title" :label="group.title">
        <el-option v-for="kind in group.kinds" :key="kind" :label="MODE_WORDS[kind]" :value="kind" />
      </el-option-group>
    </el-select>
  </label>
  <span v-if="chosen && !ruling" class="soft"
    >{{ formatCount(chosenCount) }} chosen{{ chosen.length > 1 ? ` on ${chosen.length} parts` : '' }}</span
  >
  <el-checkbox v-model="ruling" size="small">Ruler</el-checkbox>
  <span v-if="ruling" class="ruler" aria-live="polite">{{
    distance ?? (ruler.length ? 'click the second point' : 'click two points')
  }}</span>
  <el-button
    v-if="ruling && measured"
    class="known"
    size="small"
    title="Scale the model so that this length is what it is in truth"
    @click="emit('knownSize', measured)"
    >Known size</el-button
  >
</template>

<style scoped>
.choose {
  display: flex;
  align-items: center;
  gap: 6px;
  margin: 0 10px 0 4px;
  white-space: nowrap;
}
.choose :deep(.el-select) {
  width: 118px;
}
.known {
  margin-right: 12px;
}
.ruler {
  font-weight: 600;
  margin-right: 12px;
  white-space: nowrap;
}
/* the list says what it is where there is no room for the word */
@media (max-width: 1400px) {
  .word {
    display: none;
  }
}
</style>
