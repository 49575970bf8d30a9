<script setup lang="ts">
import { computed } from 'vue'
import type { ObjWriteOptions } from '../../core/formats/obj/options.ts'

/** What travels in the file, and in which unit and axes. */
const options = defineModel<ObjWriteOptions>({ required: true })
const props = defineProps<{
  unitMeters: number | null
  upAxis: string
  parts: readonly { node: number; name: string }[]
}>()
const set = <Key extends keyof ObjWriteOptions>(key: Key, value: ObjWriteOptions[Key]): void => {
  options.value = { ...options.value, [key]: value }
}
const TICKS = [
  ['uvs', 'UVs'],
  ['normals', 'Normals'],
  ['smoothing', 'Smoothing'],
  ['creases', 'Creases'],
  ['groups', 'Face groups'],
  ['colors', 'Vertex colours'],
] as const
const UNITS = [
  { label: 'as it is', value: 0 },
  { label: 'millimetres', value: 0.001 },
  { label: 'centimetres', value: 0.01 },
  { label: 'decimetres', value: 0.1 },
  { label: 'metres', value: 1 },
  { label: 'inches', value: 0.0254 },
]
const setUp = (up: string): void => {
  options.value =
    up === 'same'
      ? { ...options.value, upAxis: null, frontAxis: null }
      : { ...options.value, upAxis: up as 'y' | 'z', frontAxis: up === 'y' ? 'z' : '-y' }
}
const chosen = computed(() => options.value.selection ?? props.parts.map((part) => part.node))
// a file without parts is no file: the last one stays
const setParts = (nodes: number[]): void => {
  if (nodes.length)
    set('selection', nodes.length === props.parts.length ? null : [...nodes].sort((a, b) => a - b))
}
</script>

<template>
  <div class="options">
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
    <label class="field">
      Materials
      <el-select
        :model-value="options.materials"
        size="small"
        aria-label="Materials"
        @update:model-value="(value: ObjWriteOptions['materials']) => set('materials', value)"
      >
        <el-option label="with MTL and maps" value="full" /><el-option
          label="names only"
          value="names"
        /><el-option label="none" value="none" />
      </el-select>
    </label>
    <label class="field">
      Unit
      <el-select
        :model-value="options.unitMeters ?? 0"
        size="small"
        aria-label="Unit"
        :disabled="unitMeters === null"
        @update:model-value="(value: number) => set('unitMeters', value || null)"
      >
        <el-option v-for="unit in UNITS" :key="unit.value" :label="unit.label" :value="unit.value" />
      </el-select>
    </label>
    <label class="field">
      Up axis
      <el-select
        :model-value="options.upAxis ?? 'same'"
        size="small"
        aria-label="Up axis"
        @update:model-value="setUp"
      >
        <el-option :label="`as it is (${upAxis.toUpperCase()})`" value="same" /><el-option
          label="Y"
          value="y"
        /><el-option label="Z" value="z" />
      </el-select>
    </label>
    <label class="field">
      Digits
      <el-select
        :model-value="options.digits ?? 0"
        size="small"
        aria-label="Digits"
        @update:model-value="(value: number) => set('digits', value || null)"
      >
        <el-option label="exact" :value="0" /><el-option
          v-for="digits in [4, 6, 8]"
          :key="digits"
          :label="`${digits} after the point`"
          :value="digits"
        />
      </el-select>
    </label>
    <label class="field">
      Parts
      <el-select
        :model-value="chosen"
        multiple
        collapse-tags
        size="small"
        aria-label="Parts that travel"
        @update:model-value="setParts"
      >
        <el-option v-for="part in parts" :key="part.node" :label="part.name" :value="part.node" />
      </el-select>
    </label>
    <el-checkbox
      :model-value="options.flipV"
      size="small"
      @update:model-value="(on: unknown) => set('flipV', Boolean(on))"
      >V points down</el-checkbox
    >
  </div>
</template>

<style scoped>
.options {
  display: grid;
  gap: 5px;
}
.field {
  display: grid;
  grid-template-columns: 76px minmax(0, 1fr);
  align-items: center;
  color: var(--ink-soft);
}
.ticks {
  display: grid;
  grid-template-columns: 1fr 1fr;
}
.ticks :deep(.el-checkbox) {
  margin: 0;
}
</style>
