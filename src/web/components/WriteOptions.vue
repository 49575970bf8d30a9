<script setup lang="ts">
import { computed } from 'vue'
import type { WriteOptions } from '../../core/formats/registry.ts'
import ChoiceField from './ChoiceField.vue'

/** What travels in the file, and how it is written. Options are those of the destination's format. */
const props = defineProps<{
  options: WriteOptions
  format: 'obj' | 'fbx'
  unitMeters: number | null
  upAxis: string
  /** Parts to choose from; without them nothing of one model is asked. */
  parts?: readonly { node: number; name: string }[]
}>()
const emit = defineEmits<{ set: [options: WriteOptions] }>()
const set = <Key extends keyof WriteOptions>(key: Key, value: WriteOptions[Key]): void =>
  emit('set', { [key]: value })

type Tick = readonly [key: keyof WriteOptions, label: string]
const COMMON: readonly Tick[] = [
  ['uvs', 'UVs'],
  ['normals', 'Normals'],
  ['smoothing', 'Smoothing'],
  ['creases', 'Creases'],
  ['groups', 'Face groups'],
  ['colors', 'Vertex colours'],
]
const FBX_TICKS: readonly Tick[] = [
  ['shapes', 'Shapes and skins'],
  ['tangents', 'Tangents'],
  ['cameras', 'Cameras'],
  ['lights', 'Lights'],
]
const ticks = computed(() => (props.format === 'fbx' ? [...COMMON, ...FBX_TICKS] : COMMON))
const MORE: readonly Tick[] = [
  ['triangulate', 'Cut into triangles'],
  ['visibleOnly', 'Visible parts only'],
]
const more = computed<readonly Tick[]>(() =>
  props.format === 'fbx'
    ? [...MORE, ['embedMaps', 'Maps inside the file']]
    : [...MORE, ['flipV', 'V points down']],
)

const UNITS = [
  { label: 'as it is', value: 0 },
  { label: 'millimetres', value: 0.001 },
  { label: 'centimetres', value: 0.01 },
  { label: 'decimetres', value: 0.1 },
  { label: 'metres', value: 1 },
  { label: 'inches', value: 0.0254 },
]
const CREASES = [
  { label: '0 to 1', value: '1 1' },
  { label: '0 to 1, squared', value: '1 2' },
  { label: '0 to 10', value: '10 1' },
]
const creases = computed(() => {
  const value = `${props.options.creaseScale ?? 1} ${props.options.creaseExponent ?? 1}`
  return { value, known: CREASES.some((entry) => entry.value === value) }
})
const setCreases = (value: string): void => {
  const [creaseScale, creaseExponent] = value.split(' ').map(Number)
  emit('set', { creaseScale, creaseExponent })
}
const version = computed(() => `${props.options.version ?? 7400} ${props.options.form ?? 'binary'}`)
const setVersion = (value: string): void => {
  const [number, form] = value.split(' ')
  emit('set', { version: Number(number) as 7400 | 7500, form: form as 'binary' | 'text' })
}
const setUp = (up: string): void =>
  emit(
    'set',
    up === 'same'
      ? { upAxis: undefined, frontAxis: undefined }
      : { upAxis: up as 'y' | 'z', frontAxis: up === 'y' ? 'z' : '-y' },
  )
const chosen = computed(() => props.options.selection ?? (props.parts ?? []).map((part) => part.node))
// a file without parts is no file: the last one stays
const setParts = (nodes: number[]): void => {
  if (nodes.length)
    set('selection', nodes.length === props.parts!.length ? null : [...nodes].sort((a, b) => a - b))
}
</script>

<template>
  <div class="options">
    <div class="ticks">
      <el-checkbox
        v-for="[key, label] in ticks"
        :key="key"
        :model-value="Boolean(options[key])"
        size="small"
        @update:model-value="(on: unknown) => emit('set', { [key]: Boolean(on) })"
        >{{ label }}</el-checkbox
      >
    </div>
    <label v-if="parts" class="field">
      Parts
      <el-select
        :model-value="chosen as number[]"
        :persistent="false"
        multiple
        collapse-tags
        size="small"
        aria-label="Parts that travel"
        @update:model-value="setParts"
      >
        <el-option v-for="part in parts" :key="part.node" :label="part.name" :value="part.node" />
      </el-select>
    </label>
    <ChoiceField
      v-if="format === 'fbx'"
      label="Version"
      :value="version"
      :choices="[
        { label: '7.4, binary', value: '7400 binary' },
        { label: '7.5, binary', value: '7500 binary' },
        { label: '7.4, text', value: '7400 text' },
        { label: '7.5, text', value: '7500 text' },
      ]"
      @choose="setVersion"
    />
    <ChoiceField
      label="Materials"
      :value="options.materials ?? 'full'"
      :choices="[
        { label: format === 'obj' ? 'with MTL and maps' : 'with maps', value: 'full' },
        { label: 'names only', value: 'names' },
        { label: 'none', value: 'none' },
      ]"
      @choose="(value: 'full' | 'names' | 'none') => set('materials', value)"
    />
    <ChoiceField
      label="Unit"
      :value="options.unitMeters ?? 0"
      :choices="UNITS"
      :disabled="unitMeters === null"
      @choose="(value: number) => set('unitMeters', value || null)"
    />
    <ChoiceField
      v-if="format === 'fbx' && options.unitMeters"
      label="goes into"
      :value="options.unitAs ?? 'points'"
      :choices="[
        { label: 'the points', value: 'points' },
        { label: 'a scale on the roots', value: 'roots' },
        { label: 'the file’s settings alone', value: 'metadata' },
      ]"
      name="The unit goes into"
      @choose="(value: 'metadata' | 'roots' | 'points') => set('unitAs', value)"
    />
    <ChoiceField
      label="Up axis"
      :value="options.upAxis ?? 'same'"
      :choices="[
        { label: `as it is (${upAxis.toUpperCase()})`, value: 'same' },
        { label: 'Y', value: 'y' },
        { label: 'Z', value: 'z' },
      ]"
      @choose="setUp"
    />
    <ChoiceField
      v-if="format === 'fbx' && options.upAxis"
      label="goes into"
      :value="options.axesAs ?? 'points'"
      :choices="[
        { label: 'the points', value: 'points' },
        { label: 'the file’s settings alone', value: 'metadata' },
      ]"
      name="The axes go into"
      @choose="(value: 'metadata' | 'points') => set('axesAs', value)"
    />
    <label class="field">
      Scale
      <el-input-number
        :model-value="options.scale ?? 1"
        size="small"
        :controls="false"
        :min="1e-9"
        :max="1e9"
        aria-label="Scale"
        @update:model-value="(value: number | undefined | null) => set('scale', value || 1)"
      />
    </label>
    <template v-if="format === 'fbx'">
      <ChoiceField
        label="Smoothing"
        :value="options.smoothingForm ?? 'own'"
        :choices="[
          { label: 'as the part has it', value: 'own' },
          { label: 'by edge', value: 'edges' },
          { label: 'by polygon', value: 'polygons' },
        ]"
        name="Form of smoothing"
        :disabled="!options.smoothing"
        @choose="(value: 'own' | 'edges' | 'polygons') => set('smoothingForm', value)"
      />
      <label class="field">
        Creases
        <el-select
          :model-value="creases.value"
          :persistent="false"
          size="small"
          aria-label="Scale of creases"
          :disabled="!options.creases || undefined"
          @update:model-value="setCreases"
        >
          <el-option v-for="entry in CREASES" :key="entry.value" :label="entry.label" :value="entry.value" />
          <el-option
            v-if="!creases.known"
            :label="`0 to ${options.creaseScale}, to the power of ${options.creaseExponent}`"
            :value="creases.value"
          />
        </el-select>
      </label>
      <ChoiceField
        label="Face groups"
        :value="options.groupsAs ?? 'sets'"
        :choices="[
          { label: 'as numbered sets', value: 'sets' },
          { label: 'as materials', value: 'materials' },
        ]"
        name="Face groups as"
        :disabled="!options.groups"
        @choose="(value: 'sets' | 'materials') => set('groupsAs', value)"
      />
      <label class="field">
        UV names
        <el-input
          :model-value="options.uvSetNames"
          size="small"
          placeholder="their own"
          aria-label="Names of UV sets"
          @change="(value: string) => set('uvSetNames', value)"
        />
      </label>
    </template>
    <label v-else class="field">
      Digits
      <el-select
        :model-value="options.digits ?? 0"
        :persistent="false"
        size="small"
        aria-label="Digits"
        @update:model-value="(value: number) => set('digits', value || null)"
      >
        <el-option label="exact" :value="0" />
        <el-option
          v-for="digits in [4, 6, 8]"
          :key="digits"
          :label="`${digits} after the point`"
          :value="digits"
        />
      </el-select>
    </label>
    <div class="ticks">
      <el-checkbox
        v-for="[key, label] in more"
        :key="key"
        :model-value="Boolean(options[key])"
        size="small"
        @update:model-value="(on: unknown) => emit('set', { [key]: Boolean(on) })"
        >{{ label }}</el-checkbox
      >
    </div>
  </div>
</template>

<style scoped>
.options {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 5px;
}
.field {
  display: grid;
  grid-template-columns: 76px minmax(0, 1fr);
  align-items: center;
  color: var(--ink-soft);
}
.field :deep(.el-input-number) {
  width: 100%;
}
.ticks {
  display: grid;
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
}
.ticks :deep(.el-checkbox) {
  margin: 0;
}
.ticks :deep(.el-checkbox__label) {
  padding-left: 6px;
}
</style>
