<script setup lang="ts">
import { computed } from 'vue'
import type { ConflictDocument } from '../../../contract/ledger.ts'
import { shownName } from '../../../core/base/messages/names-text.ts'
import { readableNumber } from '../../../core/base/messages/render.ts'
import { useDescriptors } from '../../stores/descriptors.ts'

/** What was changed both in what came back and in the master since: for each, whose side is to stand. */
const props = defineProps<{
  conflicts: readonly ConflictDocument[]
  /** Number of the master's version. */
  versionNumber: number
  choices: Readonly<Record<string, Readonly<Record<string, 'there' | 'here'>>>>
}>()
const emit = defineEmits<{ choose: [conflicts: readonly ConflictDocument[], side: 'there' | 'here'] }>()
const { traitLabel } = useDescriptors()

const rows = computed(() =>
  props.conflicts.map((conflict) => ({
    conflict,
    side: props.choices[conflict.id]?.[conflict.trait] ?? null,
    what: `${traitLabel(conflict.trait)}${
      conflict.elements === null ? '' : `, ${readableNumber(conflict.elements)} of them on both sides`
    }`,
  })),
)
const partOf = ({ id, name }: ConflictDocument): string => (id === '' ? 'the scene' : shownName(name))
</script>

<template>
  <section class="conflicts" aria-label="Changed on both sides" data-test="conflicts">
    <header>
      <p>
        <b>Changed here and there.</b> Everything else comes together by itself; of these one side has to
        stand.
      </p>
      <span v-if="conflicts.length > 1" class="all">
        <el-button size="small" @click="emit('choose', conflicts, 'there')">All as they came back</el-button>
        <el-button size="small" @click="emit('choose', conflicts, 'here')"
          >All as in version {{ versionNumber }}</el-button
        >
      </span>
    </header>
    <ul>
      <li v-for="{ conflict, side, what } in rows" :key="`${conflict.id} ${conflict.trait}`">
        <span class="what"
          ><b>{{ partOf(conflict) }}</b> {{ what }}</span
        >
        <el-radio-group
          :model-value="side"
          size="small"
          :aria-label="`${partOf(conflict)}: ${traitLabel(conflict.trait)}`"
          @update:model-value="(value: unknown) => emit('choose', [conflict], value as 'there' | 'here')"
        >
          <el-radio-button value="there">as it came back</el-radio-button>
          <el-radio-button value="here">as in version {{ versionNumber }}</el-radio-button>
        </el-radio-group>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.conflicts {
  max-height: 220px;
  overflow: auto;
  padding: 10px 16px;
  border-top: 2px solid var(--changed);
  background: var(--paper-raised);
}
header,
li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
}
header p {
  margin: 0;
}
.all {
  flex: none;
}
ul {
  margin: 8px 0 0;
  padding: 0;
  list-style: none;
}
li {
  padding: 4px 0;
}
.what {
  min-width: 0;
}
</style>
