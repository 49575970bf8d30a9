<script setup lang="ts">
import type { ReadOptions } from '../../core/formats/registry.ts'
import { CREASE_SCALES, creaseScaleOf, creaseScaleValue, unitChoices } from '../composables/choices.ts'
import ChoiceField from './ChoiceField.vue'

/** How an FBX is to be understood where what it says is wrong; and its creases, whose scale it never says. */
const options = defineModel<ReadOptions>({ required: true })
/** What is undefined is as the file says. */
const set = (change: ReadOptions): void => {
  const next = { ...options.value, ...change }
  for (const key of Object.keys(next) as (keyof ReadOptions)[]) if (next[key] === undefined) delete next[key]
  options.value = next
}
const UNITS = unitChoices('one', 'as the file says')
const UPS = [
  { label: 'as the file says', value: 'said' },
  { label: 'Y', value: 'y' },
  { label: 'Z', value: 'z' },
] as const
const setUp = (up: 'said' | 'y' | 'z'): void =>
  set(
    up === 'said'
      ? { upAxis: undefined, frontAxis: undefined }
      : { upAxis: up, frontAxis: up === 'y' ? 'z' : '-y' },
  )
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
      :value="creaseScaleValue(options)"
      :choices="CREASE_SCALES"
      name="Scale of the FBX’s creases"
      @choose="(value) => set(creaseScaleOf(value))"
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
