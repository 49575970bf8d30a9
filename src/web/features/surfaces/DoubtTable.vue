<script setup lang="ts">
import type { RemapResultDocument } from '../../../contract/surfaces.ts'

/** What the maps' names leave open, asked in one small table. */
defineProps<{
  sets: RemapResultDocument['sets']
  maps: RemapResultDocument['doubtful']
  materials: readonly string[]
}>()
const emit = defineEmits<{ owner: [set: string, material: string] }>()
</script>

<template>
  <section v-if="sets.length || maps.length" class="doubts" aria-label="What the names leave open">
    <h2>What the names leave open</h2>
    <table>
      <tbody>
        <tr v-for="set in sets" :key="set.name">
          <th scope="row">{{ set.name }}</th>
          <td class="soft">
            {{ set.files }} {{ set.files === 1 ? 'map' : 'maps' }},
            {{ set.others.length ? `may be of ${set.others.join(' or ')}` : 'like no material’s name' }}
          </td>
          <td>
            <select
              :aria-label="`Material of the maps ${set.name}`"
              @change="emit('owner', set.name, ($event.target as HTMLSelectElement).value)"
            >
              <option value="" selected disabled>whose?</option>
              <option v-for="material in materials" :key="material" :value="material">{{ material }}</option>
            </select>
          </td>
        </tr>
        <tr v-for="map in maps" :key="map.file">
          <th scope="row">{{ map.file }}</th>
          <td class="soft" colspan="2">left out: {{ map.why }}. A row of the table takes it by hand.</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.doubts {
  border: 1px solid var(--changed);
  border-radius: 3px;
  padding: 8px 12px;
  margin-bottom: 12px;
  background: var(--paper-raised);
}
th,
td {
  padding: 3px 12px 3px 0;
  text-align: left;
}
tbody th {
  color: var(--ink);
  font-weight: 500;
  min-width: 130px;
  max-width: 200px;
  overflow-wrap: anywhere;
}
select {
  font: inherit;
  color: var(--ink);
  background: var(--paper);
  border: 1px solid var(--hairline);
  border-radius: 3px;
  padding: 2px 6px;
}
</style>
