<script setup lang="ts">
import { computed } from 'vue'
import type { ReadOptions } from '../../core/formats/registry.ts'
import ChoiceField from './ChoiceField.vue'

/** How an FBX is to be understood where what it says is wrong; and its creases, whose scale it never says. */
const options = defineModel<ReadOptions>({ required: true })
/** What is undefined is as the file says. */
const set = (change: ReadOptions): void => {
  const next = { ...options.value, ...change }
  for (const key of Object.keys(next) as (keyof ReadOptions)[]) if (next[key] === undefined) delete next[key]
  options.value = next
}
const UNITS = [
  { label: 'as the file says', value: 0 },
  { label: 'a millimetre', value: 0.001 },
  { label: 'a centimetre', value: 0.01 },
  { label: 'a decimetre', value: 0.1 },
  { label: 'an inch', value: 0.0254 },
  { label: 'a foot', value: 0.3048 },
  { label: 'a metre', value: 1 },
]
const UPS = [
  { label: 'as the file says', value: 'said' },
  { label: 'Y', value: 'y' },
  { label: 'Z', value: 'z' },
] as const
const CREASES = [
  { label: '0 to 1', value: '1 1' },
  { label: '0 to 1, squared', value: '1 2' },
  { label: '0 to 10', value: '10 1' },
]
const creases = computed(() => `${options.value.creaseScale ?? 1} ${options.value.creaseExponent ?? 1}`)
const setUp = (up: 'said' | 'y' | 'z'): void =>
  set(
    up === 'said'
      ? { upAxis: undefined, frontAxis: undefined }
      : { upAxis: up, frontAxis: up === 'y' ? 'z' : '-y' },
  )
const setCreases = (value: string): void => {
  const [creaseScale, creaseExponent] = value.split(' ').map(Number)
  set({ creaseScale, creaseExponent })
}
</script>

<template>
  <div class="options">
    <ChoiceField
      label="One unit is"
      :value="options.unitMeters ?? 0"
      :choices="UNITS"
      name="Unit of the FBX"
      @choose="(value: number) => set({ unitMeters: value || undefined })"
    />
    <ChoiceField
      label="Up is"
      :value="(options.upAxis as 'y' | 'z' | undefined) ?? 'said'"
      :choices="UPS"
      name="Up axis of the FBX"
      @choose="setUp"
    />
    <ChoiceField
      label="Creases"
      :value="creases"
      :choices="CREASES"
      name="Scale of the FBX’s creases"
      @choose="setCreases"
    />
  </div>
</template>

<style scoped>
.options {
  --label-width: 112px;
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 18px;
}
</style>
