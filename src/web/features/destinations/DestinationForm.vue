<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import type { DestinationFields } from '../../../contract/destinations.ts'
import type { SavedRecipe } from '../../../contract/recipes.ts'
import type { SavedSurfaceRules } from '../../../contract/surface-rules.ts'
import { defaultsOf, type OptionValues } from '../../../core/base/options/option.ts'
import type { CheckSettings } from '../../../core/checks/settings.ts'
import { DESTINATION_KINDS, KIND_NAMES } from '../../../core/trips/destinations/destination.ts'
import { UNITS as UNIT_NAMES } from '../../../core/formats/common-options.ts'
import { api } from '../../api.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import { useNotices } from '../../stores/notices.ts'
import ChoiceField from '../../kit/form/ChoiceField.vue'
import ManyField from '../../kit/form/ManyField.vue'
import NumberField from '../../kit/form/NumberField.vue'
import OptionsForm from '../../kit/form/OptionsForm.vue'

/** One tool, described: what it takes, what it does to a file, what has to be right before. */
const fields = defineModel<DestinationFields>({ required: true })
defineProps<{ disabled: boolean }>()
const notices = useNotices()
const descriptors = useDescriptors()

const set = <Key extends keyof DestinationFields>(key: Key, value: DestinationFields[Key]): void => {
  fields.value = { ...fields.value, [key]: value }
}
const setNaming = (change: Partial<DestinationFields['naming']>): void =>
  set('naming', { ...fields.value.naming, ...change })
const setSize = (change: Partial<DestinationFields['size']>): void =>
  set('size', { ...fields.value.size, ...change })
const writeOptions = computed(() => descriptors.format(fields.value.format)?.writeOptions ?? [])
const defaults = computed(() => defaultsOf(writeOptions.value))
/** What is as it would be anyway is not written down. */
const setOptions = (change: OptionValues): void => {
  const next = { ...fields.value.writeOptions, ...change }
  for (const key of Object.keys(next)) if (next[key] === defaults.value[key]) delete next[key]
  set('writeOptions', next)
}
const setCheck = (key: keyof CheckSettings, value: unknown): void => {
  const next = { ...fields.value.checkSettings, [key]: value as never }
  if (value === null || value === undefined) delete next[key]
  set('checkSettings', next)
}

const options = computed<OptionValues>(() => ({ ...defaults.value, ...fields.value.writeOptions }))
const units = UNIT_NAMES.map((unit) => ({ label: unit.one as string, value: unit.meters as number }))
const LIMITS: readonly { key: keyof CheckSettings; title: string; unit: string }[] = [
  { key: 'mapSize', title: 'Map size', unit: 'pixels' },
  { key: 'paddingPixels', title: 'Island padding', unit: 'pixels' },
  { key: 'leastMapSize', title: 'Maps at least', unit: 'pixels' },
  { key: 'heightMeters', title: 'Real height', unit: 'metres' },
]
const { checkSettings } = descriptors.all()
const checks = descriptors.all().checks.map((check) => ({ value: check.id, label: check.title }))
const formats = descriptors.all().formats.map((format) => ({ value: format.id, label: format.name }))
const traits = descriptors.all().traits.map((trait) => ({ value: trait.id, label: trait.title }))

const HOME = [
  { key: 'purpose', title: 'Take', none: 'nothing', name: 'Taken on return' },
  { key: 'changesOnReturn', title: 'It also changes', none: 'nothing else', name: 'Known to change' },
  { key: 'neverTravels', title: 'Never carries', none: 'carries everything', name: 'Never carries' },
] as const
const standIns = [
  { label: 'no stand-in', value: 'none' },
  ...descriptors.all().standIns.map((entry) => ({ label: entry.name.toLowerCase(), value: entry.id })),
]

/** What is kept under names: the destination's own copy first, and what could take its place. */
const namesOf = (own: { name: string } | null, kept: readonly { name: string }[]) => [
  { label: 'none', value: 'none' },
  ...[...new Set([...(own ? [own.name] : []), ...kept.map(({ name }) => name)])]
    .filter((name) => name !== 'none')
    .map((name) => ({ label: name, value: name })),
]
const recipes = ref<SavedRecipe[]>([])
const surfaceRules = ref<SavedSurfaceRules[]>([])
const recipeChoices = computed(() => namesOf(fields.value.recipe, recipes.value))
const rulesChoices = computed(() => namesOf(fields.value.surfaces, surfaceRules.value))
onMounted(() => {
  api
    .recipes()
    .then((answer) => (recipes.value = answer.recipes))
    .catch(notices.failed)
  api
    .surfaceRules()
    .then((answer) => (surfaceRules.value = answer.surfaceRules))
    .catch(notices.failed)
})
const setRules = (name: string): void => {
  const chosen = surfaceRules.value.find((one) => one.name === name)
  if (name === 'none') set('surfaces', null)
  else if (chosen) set('surfaces', { name, surface: chosen.surface, rules: chosen.rules })
}
const setRecipe = (name: string): void => {
  const chosen = recipes.value.find((recipe) => recipe.name === name)
  if (name === 'none') set('recipe', null)
  else if (chosen) set('recipe', { name: chosen.name, steps: chosen.steps })
}
</script>

<template>
  <el-form :disabled="disabled" class="form" @submit.prevent>
    <fieldset>
      <legend>The tool</legend>
      <label class="form-line">
        Name
        <el-input
          :model-value="fields.name"
          size="small"
          maxlength="80"
          aria-label="Name"
          @update:model-value="(value: string) => set('name', value)"
        />
      </label>
      <ChoiceField
        label="Kind"
        :value="fields.kind"
        :choices="DESTINATION_KINDS.map((kind) => ({ label: KIND_NAMES[kind], value: kind }))"
        @choose="(value: DestinationFields['kind']) => set('kind', value)"
      />
      <label class="form-line top">
        What it does
        <el-input
          :model-value="fields.description"
          type="textarea"
          :rows="4"
          maxlength="600"
          size="small"
          aria-label="What it does"
          @update:model-value="(value: string) => set('description', value)"
        />
      </label>
      <ChoiceField
        label="Size by"
        :value="fields.size.unit"
        :choices="[
          { label: 'the unit that the file states', value: 'stated' },
          { label: 'the numbers, as its own unit', value: 'numbers' },
        ]"
        name="Takes the size from"
        @choose="(unit: 'stated' | 'numbers') => setSize({ unit })"
      />
      <ChoiceField
        label="Its unit is"
        :value="fields.size.unitMeters"
        :choices="units"
        name="Its own unit"
        @choose="(unitMeters: number) => setSize({ unitMeters })"
      />
      <ChoiceField
        label="Polygons"
        :value="fields.polygons"
        :choices="[
          { label: 'any', value: 'any' },
          { label: 'quads', value: 'quads' },
          { label: 'triangles', value: 'triangles' },
        ]"
        @choose="(value: DestinationFields['polygons']) => set('polygons', value)"
      />
      <NumberField
        label="Triangles up to"
        :value="fields.polygonBudget"
        :min="1"
        whole
        placeholder="any number"
        name="Triangles at most"
        @choose="(value) => set('polygonBudget', value)"
      />
      <ChoiceField
        label="Normal maps"
        :value="fields.normalMapGreen"
        :choices="[
          { label: 'green points up', value: 'up' },
          { label: 'green points down', value: 'down' },
        ]"
        @choose="(value: 'up' | 'down') => set('normalMapGreen', value)"
      />
      <ChoiceField
        label="Practise with"
        :value="fields.standIn ?? 'none'"
        :choices="standIns"
        name="Stand-in"
        @choose="(value: string) => set('standIn', value === 'none' ? null : value)"
      />
    </fieldset>
    <fieldset>
      <legend>What travels, and how</legend>
      <ChoiceField
        label="Format"
        :value="fields.format"
        :choices="formats"
        @choose="(value: string) => set('format', value)"
      />
      <OptionsForm :options="writeOptions" :values="options" @set="setOptions" />
      <ChoiceField
        label="Files"
        :value="fields.split"
        :choices="[
          { label: 'one for everything', value: 'one' },
          { label: 'one a part', value: 'parts' },
          { label: 'one a material', value: 'materials' },
        ]"
        @choose="(value: DestinationFields['split']) => set('split', value)"
      />
    </fieldset>
    <fieldset>
      <legend>Names</legend>
      <ChoiceField
        label="Letters"
        :value="fields.naming.letters"
        :choices="[
          { label: 'any', value: 'any' },
          { label: 'a to z, digits, underscores', value: 'plain' },
        ]"
        name="Letters of names"
        @choose="(letters: 'any' | 'plain') => setNaming({ letters })"
      />
      <NumberField
        label="Longest"
        :value="fields.naming.longest"
        :min="4"
        :max="1000"
        whole
        placeholder="any length"
        name="Longest name"
        @choose="(longest) => setNaming({ longest })"
      />
      <div class="form-line">
        Around them
        <span class="pair">
          <el-input
            :model-value="fields.naming.prefix"
            size="small"
            maxlength="40"
            placeholder="before"
            aria-label="Put before names"
            @update:model-value="(prefix: string) => setNaming({ prefix })"
          />
          <el-input
            :model-value="fields.naming.suffix"
            size="small"
            maxlength="40"
            placeholder="behind"
            aria-label="Put behind names"
            @update:model-value="(suffix: string) => setNaming({ suffix })"
          />
        </span>
      </div>
      <div class="heading">Before it leaves</div>
      <ManyField
        label="Has to be clean"
        :values="fields.mustBeClean"
        :choices="checks"
        placeholder="nothing in particular"
        name="Checks that have to be clean"
        @choose="(value) => set('mustBeClean', value)"
      />
      <ChoiceField
        label="Recipe"
        :value="fields.recipe?.name ?? 'none'"
        :choices="recipeChoices"
        name="Recipe to run first"
        @choose="setRecipe"
      />
      <ChoiceField
        label="Materials"
        :value="fields.surfaces?.name ?? 'none'"
        :choices="rulesChoices"
        name="Rules for materials"
        @choose="setRules"
      />
      <p v-if="fields.surfaces" class="soft">
        Materials leave as
        {{ descriptors.all().surfaceModels.find(({ id }) => id === fields.surfaces!.surface)?.title }}.
      </p>
      <NumberField
        v-for="limit in LIMITS"
        :key="limit.key"
        :label="limit.title"
        :value="(fields.checkSettings[limit.key] as number | undefined) ?? null"
        :min="0"
        :placeholder="`${checkSettings[limit.key] ?? 'any, in'} ${limit.unit}`"
        @choose="(value) => setCheck(limit.key, value)"
      />
      <div class="heading">When it comes home</div>
      <ManyField
        v-for="entry in HOME"
        :key="entry.key"
        :label="entry.title"
        :values="fields[entry.key]"
        :choices="traits"
        :placeholder="entry.none"
        :name="entry.name"
        @choose="(value) => set(entry.key, value)"
      />
    </fieldset>
  </el-form>
</template>

<style scoped>
fieldset {
  --label-width: 108px;
}
.form {
  /* what can't be changed is there to be read */
  --el-disabled-text-color: var(--ink);
  --el-disabled-bg-color: transparent;
  --el-fill-color-light: transparent;
  --el-disabled-border-color: var(--hairline);
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 28px;
  align-items: start;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 5px;
  min-width: 0;
}
legend,
.heading {
  font-weight: 600;
  padding: 0 0 4px;
}
.heading {
  margin-top: 10px;
}
/* tags and ticks of a form that is only read */
.form :deep(.is-disabled .el-checkbox__label) {
  color: var(--ink);
}
.form :deep(.is-disabled.is-checked .el-checkbox__inner)::after {
  border-color: var(--ink);
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
}
</style>
