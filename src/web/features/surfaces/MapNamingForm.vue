<script setup lang="ts">
import { computed, ref } from 'vue'
import { MAP_NAMING_STANDARD, type MapNaming } from '../../../core/surfaces/remap/map-naming.ts'
import ChoiceField from '../../kit/form/ChoiceField.vue'

/** How maps are named beside the model: as they came, by a usual pattern, or by one of the artist's own. */
const props = defineProps<{ naming: MapNaming | null }>()
const emit = defineEmits<{ change: [naming: MapNaming | null] }>()

const AS_THEY_CAME = 'as they came'
const OWN = 'own'
const USUAL = [
  { value: AS_THEY_CAME, label: 'named as they came' },
  { value: '{material}_{slot}', label: 'material_slot' },
  { value: '{material}_{parameter}', label: 'material_parameter' },
  { value: '{material}/{slot}', label: 'a folder a material, by slot' },
  { value: '{material}/{file}', label: 'a folder a material, as they came' },
  { value: OWN, label: 'by a pattern of your own …' },
]
const writes = ref(false)
const pattern = computed(() => props.naming?.pattern ?? AS_THEY_CAME)
const isUsual = computed(() => USUAL.some(({ value }) => value === pattern.value))
const choice = computed(() => (writes.value || !isUsual.value ? OWN : pattern.value))
function choose(value: string): void {
  writes.value = value === OWN
  if (value === OWN) return
  emit('change', value === AS_THEY_CAME ? null : { ...MAP_NAMING_STANDARD, pattern: value })
}
function write(text: string): void {
  const own = text.trim()
  emit('change', own ? { ...MAP_NAMING_STANDARD, pattern: own } : null)
}
</script>

<template>
  <div class="naming">
    <ChoiceField label="Maps" name="Names of the maps" :value="choice" :choices="USUAL" @choose="choose" />
    <input
      v-if="choice === OWN"
      type="text"
      maxlength="300"
      aria-label="Pattern of the maps’ names"
      placeholder="{material}_{slot}"
      title="{material}, {slot}, {parameter} and {file} are filled in; / makes folders"
      :value="naming?.pattern ?? ''"
      @change="write(($event.target as HTMLInputElement).value)"
    />
  </div>
</template>

<style scoped>
.naming {
  --label-width: 40px;
}
input {
  width: 100%;
  margin-top: 4px;
  font: inherit;
  color: var(--ink);
  background: var(--paper);
  border: 1px solid var(--hairline);
  border-radius: 3px;
  padding: 2px 7px;
}
</style>
