<script setup lang="ts">
import { computed, ref } from 'vue'
import type { WriteOptions } from '../../core/formats/registry.ts'
import { CREASE_SCALES, creaseScaleOf, creaseScaleValue, unitChoices } from '../composables/choices.ts'
import ChoiceField from './ChoiceField.vue'
import ManyField from './ManyField.vue'
import NumberField from './NumberField.vue'

/** What travels in the file, and how it is written. Options are those of the destination's format. */
const props = defineProps<{
  options: WriteOptions
  format: 'obj' | 'fbx'
  unitMeters: number | null
  upAxis: string
  /** Parts to choose from; without them nothing of one model is asked. */
  parts?: readonly { node: number; name: string }[]
  /** How the file is written is said in a line, and unfolded to be changed. */
  folded?: boolean
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

const UNITS = unitChoices('many', 'as it is')
const DIGITS = [
  { label: 'exact', value: 0 },
  ...[4, 6, 8].map((digits) => ({ label: `${digits} after the point`, value: digits })),
]
const CREASES = [...CREASE_SCALES, { label: 'another scale', value: 'other' }]
/** The artist gives the scale in numbers of its own, which may happen to be one of the usual ones. */
const ownCreases = ref(false)
const creases = computed(() => {
  const value = creaseScaleValue(props.options)
  return !ownCreases.value && CREASES.some((entry) => entry.value === value) ? value : 'other'
})
const setCreases = (value: string): void => {
  ownCreases.value = value === 'other'
  if (!ownCreases.value) emit('set', creaseScaleOf(value))
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
const named = (choices: readonly { label: string; value: unknown }[], value: unknown): string | null =>
  choices.find((entry) => entry.value === value)?.label ?? null
const VERSIONS = [
  { label: '7.4, binary', value: '7400 binary' },
  { label: '7.5, binary', value: '7500 binary' },
  { label: '7.4, text', value: '7400 text' },
  { label: '7.5, text', value: '7500 text' },
]
const SMOOTHING = [
  { label: 'as the part has it', value: 'own' },
  { label: 'by edge', value: 'edges' },
  { label: 'by polygon', value: 'polygons' },
] as const
const MATERIALS = computed(
  () =>
    [
      { label: props.format === 'obj' ? 'with MTL and maps' : 'with maps', value: 'full' },
      { label: 'names only', value: 'names' },
      { label: 'none', value: 'none' },
    ] as const,
)
/** How the file is written, in a line. */
const summary = computed(() => {
  const { options, format } = props
  const unit = options.unitMeters ? named(UNITS, options.unitMeters) : null
  const places = { points: '', roots: ' by the roots’ scale', metadata: ' in the settings alone' }
  return [
    format === 'fbx' ? named(VERSIONS, version.value) : `${named(DIGITS, options.digits ?? 0)} digits`,
    `materials ${named(MATERIALS.value, options.materials ?? 'full')}`,
    unit ? `${unit}${format === 'fbx' ? places[options.unitAs ?? 'points'] : ''}` : 'unit as it is',
    `${(options.upAxis ?? props.upAxis).toUpperCase()} up`,
    ...(options.scale && options.scale !== 1 ? [`× ${options.scale}`] : []),
    ...(format === 'fbx' && options.smoothing
      ? [`smoothing ${named(SMOOTHING, options.smoothingForm ?? 'own')}`]
      : []),
    ...(format === 'fbx' && options.creases
      ? [
          `creases ${creases.value === 'other' ? `0 to ${options.creaseScale}, power ${options.creaseExponent}` : named(CREASES, creases.value)}`,
        ]
      : []),
    ...more.value.flatMap(([key, label]) => (options[key] ? [label.toLowerCase()] : [])),
  ].join(', ')
})
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
    <ManyField
      v-if="parts"
      label="Parts"
      :values="chosen"
      :choices="parts.map((part) => ({ label: part.name, value: part.node }))"
      name="Parts that travel"
      short
      @choose="setParts"
    />
    <component :is="folded ? 'details' : 'div'" class="how">
      <summary v-if="folded">
        <span>{{ summary }}</span>
      </summary>
      <div class="lines">
        <ChoiceField
          v-if="format === 'fbx'"
          label="Version"
          :value="version"
          :choices="VERSIONS"
          @choose="setVersion"
        />
        <ChoiceField
          label="Materials"
          :value="options.materials ?? 'full'"
          :choices="MATERIALS"
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
        <NumberField
          label="Scale"
          :value="options.scale ?? 1"
          :min="1e-9"
          :max="1e9"
          @choose="(value) => set('scale', value || 1)"
        />
        <template v-if="format === 'fbx'">
          <ChoiceField
            label="Smoothing"
            :value="options.smoothingForm ?? 'own'"
            :choices="SMOOTHING"
            name="Form of smoothing"
            :disabled="!options.smoothing"
            @choose="(value: 'own' | 'edges' | 'polygons') => set('smoothingForm', value)"
          />
          <ChoiceField
            label="Creases"
            :value="creases"
            :choices="CREASES"
            name="Scale of creases"
            :disabled="!options.creases"
            @choose="setCreases"
          />
          <template v-if="creases === 'other' && options.creases">
            <NumberField
              label="0 up to"
              :value="options.creaseScale ?? 1"
              :min="0.001"
              :max="1000"
              name="Weight of an edge that stays sharp"
              @choose="(value) => set('creaseScale', value || 1)"
            />
            <NumberField
              label="power"
              :value="options.creaseExponent ?? 1"
              :min="0.1"
              :max="10"
              name="Power of a crease’s weight"
              @choose="(value) => set('creaseExponent', value || 1)"
            />
          </template>
          <ChoiceField
            label="Groups"
            :value="options.groupsAs ?? 'sets'"
            :choices="[
              { label: 'as numbered sets', value: 'sets' },
              { label: 'as materials', value: 'materials' },
            ]"
            name="Face groups as"
            :disabled="!options.groups"
            @choose="(value: 'sets' | 'materials') => set('groupsAs', value)"
          />
          <label class="form-line">
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
        <ChoiceField
          v-else
          label="Digits"
          :value="options.digits ?? 0"
          :choices="DIGITS"
          @choose="(value: number) => set('digits', value || null)"
        />
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
    </component>
  </div>
</template>

<style scoped>
.options,
.lines {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 5px;
}
.options {
  align-items: start;
}
summary {
  display: flex;
  gap: 8px;
  margin-top: 6px;
  cursor: pointer;
  color: var(--ink-soft);
  line-height: 1.45;
}
summary::before {
  content: '+';
  font-weight: 600;
  color: var(--accent);
  width: 10px;
  flex: none;
}
details[open] summary::before {
  content: '−';
}
details[open] summary {
  margin-bottom: 6px;
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
