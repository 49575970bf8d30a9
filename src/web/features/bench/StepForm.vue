<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { defaultsOf, type OptionValues } from '../../../core/base/options/option.ts'
import type { RecipeStep, StepElements } from '../../../core/steps/recipe.ts'
import type { StepArea } from '../../../core/steps/step.ts'
import type { StepPreview } from '../../../app/bench.ts'
import OptionsForm from '../../kit/form/OptionsForm.vue'
import { useDescriptors } from '../../stores/descriptors.ts'
import { formatChange } from '../../kit/format.ts'

/** Choose a step, set its parameters, see what it would change, apply it. */
const props = defineProps<{
  preview: StepPreview | null
  busy: boolean
  /** The selected part's node, by its id. */
  selectedPart: string | null
  /** What is chosen, part by part. */
  chosen: readonly StepElements[] | null
  /** A step that the form begins with, on what is chosen. */
  wanted: { readonly step: string } | null
  /** Asks for the growth of a weld. */
  growth: { distance: number; welded: number }[] | null
  unit: string
}>()
const emit = defineEmits<{ change: [step: RecipeStep | null]; apply: [step: RecipeStep]; growth: [] }>()

const descriptors = useDescriptors()
const AREAS: Record<StepArea, string> = {
  clean: 'Clean',
  polygons: 'Polygons',
  shading: 'Shading',
  uvs: 'UVs',
  parts: 'Parts',
  scene: 'Scene',
  materials: 'Materials',
}
const groups = Object.entries(AREAS).map(([area, title]) => ({
  title,
  steps: descriptors.all().steps.filter((step) => step.area === area),
}))
const id = ref<string | null>(null)
const descriptor = computed(() => (id.value ? descriptors.step(id.value) : null))
const values = ref<OptionValues>({})
const where = ref<'all' | 'part' | 'chosen'>('all')

const step = computed<RecipeStep | null>(() => {
  if (!descriptor.value) return null
  const usual = defaultsOf(descriptor.value.parameters)
  const params = Object.fromEntries(
    Object.entries(values.value).filter(([name, value]) => name in usual && value !== usual[name]),
  )
  const base = { step: descriptor.value.id, params }
  if (where.value === 'part' && props.selectedPart) return { ...base, nodes: [props.selectedPart] }
  if (where.value === 'chosen' && props.chosen) return { ...base, only: props.chosen }
  return base
})
watch(id, () => {
  values.value = defaultsOf(descriptor.value?.parameters ?? [])
  if (id.value === 'weld-by-distance') emit('growth')
})
watch(
  () => [props.selectedPart, props.chosen] as const,
  ([part, chosen]) => {
    if (where.value === 'chosen' && !chosen) where.value = 'all'
    if (where.value === 'part' && !part) where.value = 'all'
  },
)
watch(
  () => props.wanted,
  async (wanted) => {
    if (!wanted) return
    id.value = wanted.step
    await nextTick()
    const element = props.chosen?.[0]?.element
    if (element) where.value = 'chosen'
    if (element && element !== 'faces' && 'what' in values.value) set({ what: 'corners' })
  },
  { immediate: true },
)
const chosenWords = computed(() => {
  const element = props.chosen?.[0]?.element ?? 'faces'
  return element === 'faces' ? 'chosen polygons' : `chosen ${element}`
})
let timer: ReturnType<typeof setTimeout> | undefined
watch(
  step,
  (next) => {
    clearTimeout(timer)
    timer = setTimeout(() => emit('change', next), 200)
  },
  { deep: true },
)
function apply(): void {
  if (!step.value) return
  emit('apply', step.value)
  id.value = null
}
const set = (change: OptionValues): void => {
  values.value = { ...values.value, ...change }
}
const most = computed(() => Math.max(1, ...(props.growth ?? []).map((entry) => entry.welded)))
const short = (value: number): string => Number(value.toPrecision(2)).toString()
</script>

<template>
  <div class="form">
    <el-select
      v-model="id"
      size="small"
      filterable
      default-first-option
      clearable
      placeholder="Add a step"
      aria-label="Add a step"
    >
      <el-option-group v-for="group in groups" :key="group.title" :label="group.title">
        <el-option v-for="entry in group.steps" :key="entry.id" :label="entry.title" :value="entry.id" />
      </el-option-group>
    </el-select>
    <template v-if="descriptor">
      <p class="soft">{{ descriptor.description }}</p>
      <OptionsForm
        class="parameters"
        :options="descriptor.parameters"
        :values="values"
        :file-unit="unit"
        plain
        @set="set"
      />
      <table
        v-if="id === 'weld-by-distance' && growth"
        class="growth"
        aria-label="How the count grows with the distance"
      >
        <tbody>
          <tr
            v-for="entry in growth.filter((_entry, at) => at % 2 === 0)"
            :key="entry.distance"
            tabindex="0"
            title="Take this distance"
            @click="set({ distance: Number(entry.distance.toPrecision(2)) })"
            @keydown.enter="set({ distance: Number(entry.distance.toPrecision(2)) })"
          >
            <td class="figure">{{ short(entry.distance) }}</td>
            <td class="bar"><i :style="{ width: `${(100 * entry.welded) / most}%` }"></i></td>
            <td class="figure">{{ entry.welded.toLocaleString('en-US') }}</td>
          </tr>
        </tbody>
      </table>
      <el-radio-group v-model="where" size="small" class="where" aria-label="Where">
        <el-radio value="all">all parts</el-radio>
        <el-radio value="part" :disabled="!selectedPart">this part</el-radio>
        <el-radio value="chosen" :disabled="!chosen">{{ chosenWords }}</el-radio>
      </el-radio-group>
      <div class="would" aria-live="polite">
        <template v-if="preview?.refusal">{{ preview.refusal }}</template>
        <template v-else-if="preview">
          <b>{{
            preview.changedCount === 0
              ? 'Nothing to change.'
              : `Would change ${formatChange(preview.changedCount, preview.of)}.`
          }}</b>
          <span v-if="preview.warning" class="warning"> {{ preview.warning }}</span>
          <span v-for="note in preview.notes.slice(0, 3)" :key="note" class="soft"> {{ note }}</span>
        </template>
        <template v-else><span class="soft">Looking what it would change …</span></template>
      </div>
      <div>
        <el-button
          size="small"
          type="primary"
          :disabled="busy || !preview || preview.refusal !== null || preview.changedCount === 0"
          @click="apply"
          >Apply</el-button
        >
        <el-button size="small" text @click="id = null">Leave it</el-button>
      </div>
    </template>
  </div>
</template>

<style scoped>
.form {
  display: grid;
  gap: 7px;
  padding: 10px 12px;
  border-bottom: 1px solid var(--hairline);
}
.form p {
  margin: 0;
}
.parameters {
  --label-width: 112px;
}
.where :deep(.el-radio) {
  margin-right: 14px;
}
.warning {
  color: var(--lost);
}
.would > span {
  display: block;
}
.growth td {
  padding: 1px 4px;
}
.growth tr {
  cursor: pointer;
}
.growth tr:hover,
.growth tr:focus-visible {
  background: var(--paper-sunk);
}
.bar {
  width: 55%;
}
.bar i {
  display: block;
  height: 9px;
  min-width: 1px;
  background: var(--accent);
}
</style>
