<script setup lang="ts">
import type { CheckSettings } from '../../../core/checks/settings.ts'
import { useDestinations } from '../../stores/destinations.ts'

/** What the model is held against: a destination's expectations, and what the artist sets beside them. */
const destination = defineModel<string>('destination', { required: true })
const settings = defineModel<Partial<CheckSettings>>('settings', { required: true })
defineProps<{ base: CheckSettings }>()
const destinations = useDestinations()

type NumberKey =
  | 'heightMeters'
  | 'weldDistance'
  | 'triangleBudget'
  | 'mapSize'
  | 'paddingPixels'
  | 'densitySpread'
  | 'stretchLimit'
  | 'aspectLimit'
  | 'bendLimit'
  | 'leastMapSize'
  | 'leastPanel'
const NUMBERS: readonly { key: NumberKey; title: string; unit: string; min: number }[] = [
  { key: 'heightMeters', title: 'Height of the real thing', unit: 'm', min: 0.0001 },
  { key: 'weldDistance', title: 'Points are one within', unit: 'units', min: 0 },
  { key: 'triangleBudget', title: 'Triangles at most', unit: '', min: 1 },
  { key: 'mapSize', title: 'Map size', unit: 'pixels', min: 16 },
  { key: 'paddingPixels', title: 'Padding of islands', unit: 'pixels', min: 0 },
  { key: 'densitySpread', title: 'Texel density within', unit: 'times', min: 1 },
  { key: 'stretchLimit', title: 'Stretch at most', unit: 'times', min: 1 },
  { key: 'aspectLimit', title: 'Length by width at most', unit: '', min: 1 },
  { key: 'bendLimit', title: 'Bend at most', unit: '°', min: 0 },
  { key: 'leastMapSize', title: 'Maps at least', unit: 'pixels', min: 0 },
  { key: 'leastPanel', title: 'Panels at least', unit: 'cm²', min: 0 },
]
const TICKS: readonly {
  key: 'wantQuads' | 'oneMaterial' | 'tiles' | 'wantRoot' | 'wantPartsOnFloor' | 'wantPanels'
  title: string
}[] = [
  { key: 'wantQuads', title: 'Quads only' },
  { key: 'oneMaterial', title: 'One material' },
  { key: 'tiles', title: 'UVs on several tiles' },
  { key: 'wantRoot', title: 'One root' },
  { key: 'wantPartsOnFloor', title: 'On the floor' },
  { key: 'wantPanels', title: 'Face groups are panels' },
]
const set = (key: keyof CheckSettings, value: unknown): void => {
  const next = { ...settings.value, [key]: value }
  if (value === null || value === undefined) delete next[key]
  settings.value = next
}
</script>

<template>
  <div class="limits">
    <el-select v-model="destination" :persistent="false" size="small" aria-label="Held against">
      <el-option v-for="entry in destinations.all" :key="entry.id" :label="entry.name" :value="entry.id" />
    </el-select>
    <el-popover :persistent="false" trigger="click" :width="320" placement="bottom-end">
      <template #reference><el-button size="small" text>Limits</el-button></template>
      <div class="fields">
        <label v-for="entry in NUMBERS" :key="entry.key">
          <span>{{ entry.title }}</span>
          <el-input-number
            :model-value="(settings[entry.key] as number | undefined) ?? undefined"
            size="small"
            :controls="false"
            :min="entry.min"
            :placeholder="base[entry.key] === null ? 'any' : String(base[entry.key])"
            :aria-label="entry.title"
            @update:model-value="(value: number | undefined | null) => set(entry.key, value)"
          />
          <span class="soft">{{ entry.unit }}</span>
        </label>
        <el-checkbox
          v-for="entry in TICKS"
          :key="entry.key"
          size="small"
          :model-value="settings[entry.key] ?? base[entry.key]"
          @update:model-value="(value: unknown) => set(entry.key, Boolean(value))"
          >{{ entry.title }}</el-checkbox
        >
      </div>
    </el-popover>
  </div>
</template>

<style scoped>
.limits {
  display: flex;
  align-items: center;
  gap: 6px;
  flex: 1;
}
.fields label {
  display: grid;
  grid-template-columns: 1fr 92px 42px;
  gap: 8px;
  align-items: center;
  padding: 2px 0;
}
.fields :deep(.el-input-number) {
  width: 92px;
}
</style>
