<script setup lang="ts">
import { computed } from 'vue'
import type { ObjReadOptions } from '../../core/formats/obj/options.ts'
import { unitChoices } from '../composables/choices.ts'
import ChoiceField from './ChoiceField.vue'
import NumberField from './NumberField.vue'

/** How an OBJ is to be understood, which doesn't say so itself. */
const options = defineModel<ObjReadOptions>({ required: true })
const set = <Key extends keyof ObjReadOptions>(key: Key, value: ObjReadOptions[Key]): void => {
  options.value = { ...options.value, [key]: value }
}
const setUp = (up: 'y' | 'z'): void => {
  options.value = { ...options.value, upAxis: up, frontAxis: up === 'y' ? 'z' : '-y' }
}
const up = computed(() => (options.value.upAxis === 'z' ? 'z' : 'y'))
const UPS = [
  { label: 'Y', value: 'y' },
  { label: 'Z', value: 'z' },
] as const
const PARTS = [
  { label: 'object (o)', value: 'object' },
  { label: 'group (g)', value: 'group' },
  { label: 'material', value: 'material' },
  { label: 'file (all in one)', value: 'one' },
] as const
const NORMALS = [
  { label: 'from the file', value: 'file' },
  { label: 'from smoothing groups', value: 'smoothing' },
  { label: 'from an angle', value: 'angle' },
] as const
const MATERIALS = [
  { label: 'from the MTL', value: 'full' },
  { label: 'names only', value: 'names' },
  { label: 'none', value: 'none' },
] as const
const TICKS = [
  ['mirrored', 'Mirrored (left-handed)'],
  ['flipV', 'V points down'],
  ['invertTransparency', 'Transparency inverted'],
] as const
</script>

<template>
  <div class="options">
    <ChoiceField
      label="One unit is"
      :value="options.unitMeters ?? 0"
      :choices="unitChoices('many', 'not known')"
      name="Unit of the file"
      @choose="(value: number) => set('unitMeters', value || null)"
    />
    <ChoiceField label="Up is" :value="up" :choices="UPS" name="Up axis" @choose="setUp" />
    <ChoiceField
      label="A part is"
      :value="options.partsBy"
      :choices="PARTS"
      name="What makes a part"
      @choose="(value) => set('partsBy', value)"
    />
    <ChoiceField
      label="Normals"
      :value="options.normals"
      :choices="NORMALS"
      @choose="(value) => set('normals', value)"
    />
    <NumberField
      v-if="options.normals === 'angle'"
      label="Hard above"
      :value="options.normalsAngle"
      :min="0"
      :max="180"
      name="Angle in degrees"
      @choose="(value) => set('normalsAngle', value ?? 60)"
    />
    <ChoiceField
      label="Materials"
      :value="options.materials"
      :choices="MATERIALS"
      @choose="(value) => set('materials', value)"
    />
    <div class="ticks">
      <el-checkbox
        v-for="[key, label] in TICKS"
        :key="key"
        :model-value="options[key]"
        size="small"
        @update:model-value="(on: unknown) => set(key, Boolean(on))"
        >{{ label }}</el-checkbox
      >
    </div>
  </div>
</template>

<style scoped>
.options {
  --label-width: 112px;
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 18px;
}
.ticks {
  grid-column: 1 / -1;
}
</style>
