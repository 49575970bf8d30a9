<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { LedgerRowDocument } from '../../../contract/ledger.ts'
import { shownName } from '../../../core/base/messages/names-text.ts'

/** A part that did not come back and one that is new may be the same: whoever knows says so here. */
const props = defineProps<{ rows: readonly LedgerRowDocument[]; busy: boolean }>()
const emit = defineEmits<{ pair: [lost: LedgerRowDocument, gained: LedgerRowDocument] }>()

const lost = computed(() => props.rows.filter((row) => row.returnedNode < 0))
const gained = computed(() => props.rows.filter((row) => row.masterNode < 0))
const own = ref<number | null>(null)
const other = ref<number | null>(null)
watch(
  () => props.rows,
  () => (own.value = other.value = null),
)
function pair(): void {
  const from = lost.value.find((row) => row.masterNode === own.value)
  const to = gained.value.find((row) => row.returnedNode === other.value)
  if (from && to) emit('pair', from, to)
}
</script>

<template>
  <div v-if="lost.length && gained.length" class="pair" data-test="pair-parts">
    <span>Is a part that did not come back one that is new?</span>
    <el-select
      v-model="own"
      size="small"
      placeholder="a part of the master"
      aria-label="A part of the master"
      filterable
      default-first-option
    >
      <el-option
        v-for="row in lost"
        :key="row.masterNode"
        :value="row.masterNode"
        :label="shownName(row.name)"
      />
    </el-select>
    <span>came back as</span>
    <el-select
      v-model="other"
      size="small"
      placeholder="a new part"
      aria-label="A new part"
      filterable
      default-first-option
    >
      <el-option
        v-for="row in gained"
        :key="row.returnedNode"
        :value="row.returnedNode"
        :label="shownName(row.name)"
      />
    </el-select>
    <el-button size="small" :disabled="own === null || other === null || busy" @click="pair"
      >They are one</el-button
    >
  </div>
</template>

<style scoped>
.pair {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
  margin: 6px 16px 0;
}
.pair :deep(.el-select) {
  width: 160px;
}
</style>
