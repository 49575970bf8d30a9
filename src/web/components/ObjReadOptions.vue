<script setup lang="ts">
import type { ObjReadOptions } from '../../core/formats/obj/options.ts'

/** How an OBJ is to be understood, which doesn't say so itself. */
const options = defineModel<ObjReadOptions>({ required: true })
const set = <Key extends keyof ObjReadOptions>(key: Key, value: ObjReadOptions[Key]): void => {
  options.value = { ...options.value, [key]: value }
}
const UNITS = [
  { label: 'not known', value: 0 },
  { label: 'millimetres', value: 0.001 },
  { label: 'centimetres', value: 0.01 },
  { label: 'decimetres', value: 0.1 },
  { label: 'metres', value: 1 },
  { label: 'inches', value: 0.0254 },
  { label: 'feet', value: 0.3048 },
]
const setUp = (up: 'y' | 'z'): void => {
  options.value = { ...options.value, upAxis: up, frontAxis: up === 'y' ? 'z' : '-y' }
}
</script>

<template>
  <div class="options">
    <label class="field">
      One unit is
      <el-select
        :model-value="options.unitMeters ?? 0"
        size="small"
        aria-label="Unit of the file"
        @update:model-value="(value: number) => set('unitMeters', value || null)"
      >
        <el-option v-for="unit in UNITS" :key="unit.value" :label="unit.label" :value="unit.value" />
      </el-select>
    </label>
    <label class="field">
      Up is
      <el-select :model-value="options.upAxis" size="small" aria-label="Up axis" @update:model-value="setUp">
        <el-option label="Y" value="y" /><el-option label="Z" value="z" />
      </el-select>
    </label>
    <label class="field">
      One part for each
      <el-select
        :model-value="options.partsBy"
        size="small"
        aria-label="What makes a part"
        @update:model-value="(value: ObjReadOptions['partsBy']) => set('partsBy', value)"
      >
        <el-option label="object (o)" value="object" /><el-option label="group (g)" value="group" />
        <el-option label="material" value="material" /><el-option label="file (all in one)" value="one" />
      </el-select>
    </label>
    <label class="field">
      Normals
      <el-select
        :model-value="options.normals"
        size="small"
        aria-label="Normals"
        @update:model-value="(value: ObjReadOptions['normals']) => set('normals', value)"
      >
        <el-option label="from the file" value="file" /><el-option
          label="from smoothing groups"
          value="smoothing"
        />
        <el-option label="from an angle" value="angle" />
      </el-select>
    </label>
    <label v-if="options.normals === 'angle'" class="field">
      Hard above
      <el-input-number
        :model-value="options.normalsAngle"
        :min="0"
        :max="180"
        size="small"
        aria-label="Angle in degrees"
        @update:model-value="(value: number | undefined) => set('normalsAngle', value ?? 60)"
      />
    </label>
    <label class="field">
      Materials
      <el-select
        :model-value="options.materials"
        size="small"
        aria-label="Materials"
        @update:model-value="(value: ObjReadOptions['materials']) => set('materials', value)"
      >
        <el-option label="from the MTL" value="full" /><el-option
          label="names only"
          value="names"
        /><el-option label="none" value="none" />
      </el-select>
    </label>
    <div class="ticks">
      <el-checkbox
        :model-value="options.mirrored"
        size="small"
        @update:model-value="(on: unknown) => set('mirrored', Boolean(on))"
        >Mirrored (left-handed)</el-checkbox
      >
      <el-checkbox
        :model-value="options.flipV"
        size="small"
        @update:model-value="(on: unknown) => set('flipV', Boolean(on))"
        >V points down</el-checkbox
      >
      <el-checkbox
        :model-value="options.invertTransparency"
        size="small"
        @update:model-value="(on: unknown) => set('invertTransparency', Boolean(on))"
        >Transparency inverted</el-checkbox
      >
    </div>
  </div>
</template>

<style scoped>
.options {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 18px;
}
.field {
  display: grid;
  grid-template-columns: 112px 1fr;
  align-items: center;
  color: var(--ink-soft);
}
.ticks {
  grid-column: 1 / -1;
}
</style>
