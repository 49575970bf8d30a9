<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import type { DestinationFields } from '../../contract/destinations.ts'
import type { SavedRecipe } from '../../contract/recipes.ts'
import { CHECKS } from '../../core/checks/registry.ts'
import { CHECK_SETTINGS_DEFAULTS, type CheckSettings } from '../../core/checks/settings.ts'
import { DESTINATION_KINDS, KIND_NAMES } from '../../core/destinations/destination.ts'
import { FORMATS, type WriteOptions as Options } from '../../core/formats/registry.ts'
import { STAND_INS } from '../../core/standins/registry.ts'
import { traitLabel, TRAITS } from '../../core/traits/trait.ts'
import { api } from '../api.ts'
import { useNotices } from '../stores/notices.ts'
import ChoiceField from './ChoiceField.vue'
import WriteOptions from './WriteOptions.vue'

/** One tool, described: what it takes, what it does to a file, what has to be right before. */
const fields = defineModel<DestinationFields>({ required: true })
defineProps<{ disabled: boolean }>()
const notices = useNotices()

const set = <Key extends keyof DestinationFields>(key: Key, value: DestinationFields[Key]): void => {
  fields.value = { ...fields.value, [key]: value }
}
const setNaming = (change: Partial<DestinationFields['naming']>): void =>
  set('naming', { ...fields.value.naming, ...change })
const setSize = (change: Partial<DestinationFields['size']>): void =>
  set('size', { ...fields.value.size, ...change })
const setOptions = (change: Options): void => {
  const next = { ...fields.value.writeOptions, ...change } as Record<string, unknown>
  for (const key of Object.keys(next)) if (next[key] === undefined) delete next[key]
  set('writeOptions', next as DestinationFields['writeOptions'])
}
const setCheck = (key: keyof CheckSettings, value: unknown): void => {
  const next = { ...fields.value.checkSettings, [key]: value as never }
  if (value === null || value === undefined) delete next[key]
  set('checkSettings', next)
}

const options = computed<Options>(() => ({
  ...FORMATS.find((format) => format.id === fields.value.format)!.writeDefaults,
  ...(fields.value.writeOptions as Options),
}))
const UNITS = [
  { label: 'a millimetre', value: 0.001 },
  { label: 'a centimetre', value: 0.01 },
  { label: 'a decimetre', value: 0.1 },
  { label: 'an inch', value: 0.0254 },
  { label: 'a metre', value: 1 },
]
const LIMITS: readonly { key: keyof CheckSettings; title: string; unit: string }[] = [
  { key: 'mapSize', title: 'Map size', unit: 'pixels' },
  { key: 'paddingPixels', title: 'Padding of islands', unit: 'pixels' },
  { key: 'leastMapSize', title: 'Maps at least', unit: 'pixels' },
  { key: 'heightMeters', title: 'Height of the real thing', unit: 'm' },
]
const checks = CHECKS.map((check) => ({ value: check.id, label: check.title }))
const formats = [
  { label: 'OBJ', value: 'obj' },
  { label: 'FBX', value: 'fbx' },
] as const
const traits = TRAITS.map((trait) => ({ value: trait, label: traitLabel(trait) }))

const recipes = ref<SavedRecipe[]>([])
onMounted(() => {
  api
    .recipes()
    .then((answer) => (recipes.value = answer.recipes))
    .catch(notices.failed)
})
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
      <label class="field">
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
      <label class="field top">
        What it does
        <el-input
          :model-value="fields.description"
          type="textarea"
          :rows="3"
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
        :choices="UNITS"
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
      <label class="field">
        Triangles up to
        <el-input-number
          :model-value="fields.polygonBudget ?? undefined"
          size="small"
          :controls="false"
          :min="1"
          placeholder="any number"
          aria-label="Triangles at most"
          @update:model-value="
            (value: number | undefined | null) => set('polygonBudget', value ? Math.round(value) : null)
          "
        />
      </label>
      <ChoiceField
        label="Normal maps"
        :value="fields.normalMapGreen"
        :choices="[
          { label: 'green points up', value: 'up' },
          { label: 'green points down', value: 'down' },
        ]"
        @choose="(value: 'up' | 'down') => set('normalMapGreen', value)"
      />
      <label class="field">
        Practise with
        <el-select
          :model-value="fields.standIn ?? 'none'"
          :persistent="false"
          size="small"
          aria-label="Stand-in"
          @update:model-value="(value: string) => set('standIn', value === 'none' ? null : value)"
        >
          <el-option label="no stand-in" value="none" />
          <el-option
            v-for="entry in STAND_INS"
            :key="entry.id"
            :label="entry.name.toLowerCase()"
            :value="entry.id"
          />
        </el-select>
      </label>
    </fieldset>
    <fieldset>
      <legend>What travels, and how</legend>
      <ChoiceField
        label="Format"
        :value="fields.format"
        :choices="formats"
        @choose="(value: 'obj' | 'fbx') => set('format', value)"
      />
      <WriteOptions
        :options="options"
        :format="fields.format"
        :unit-meters="1"
        up-axis="y"
        @set="setOptions"
      />
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
      <label class="field">
        Longest
        <el-input-number
          :model-value="fields.naming.longest ?? undefined"
          size="small"
          :controls="false"
          :min="4"
          :max="1000"
          placeholder="any length"
          aria-label="Longest name"
          @update:model-value="
            (value: number | undefined | null) => setNaming({ longest: value ? Math.round(value) : null })
          "
        />
      </label>
      <div class="field">
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
      <label class="field top">
        Has to be clean
        <el-select
          :model-value="fields.mustBeClean"
          :persistent="false"
          multiple
          filterable
          size="small"
          placeholder="nothing in particular"
          aria-label="Checks that have to be clean"
          @update:model-value="(value: string[]) => set('mustBeClean', value)"
        >
          <el-option v-for="check in checks" :key="check.value" v-bind="check" />
        </el-select>
      </label>
      <label class="field">
        Recipe
        <el-select
          :model-value="fields.recipe?.name ?? 'none'"
          :persistent="false"
          size="small"
          aria-label="Recipe to run first"
          @update:model-value="setRecipe"
        >
          <el-option label="none" value="none" />
          <el-option
            v-if="fields.recipe && !recipes.some((recipe) => recipe.name === fields.recipe!.name)"
            :label="fields.recipe.name"
            :value="fields.recipe.name"
          />
          <el-option v-for="recipe in recipes" :key="recipe.id" :label="recipe.name" :value="recipe.name" />
        </el-select>
      </label>
      <label v-for="limit in LIMITS" :key="limit.key" class="field">
        {{ limit.title }}
        <el-input-number
          :model-value="(fields.checkSettings[limit.key] as number | undefined) ?? undefined"
          size="small"
          :controls="false"
          :min="0"
          :placeholder="`${CHECK_SETTINGS_DEFAULTS[limit.key] ?? 'any'} ${limit.unit}`"
          :aria-label="limit.title"
          @update:model-value="(value: number | undefined | null) => setCheck(limit.key, value)"
        />
      </label>
      <div class="heading">When it comes home</div>
      <label class="field top">
        Take
        <el-select
          :model-value="fields.purpose"
          :persistent="false"
          multiple
          size="small"
          placeholder="nothing"
          aria-label="Taken on return"
          @update:model-value="(value: DestinationFields['purpose']) => set('purpose', value)"
        >
          <el-option v-for="trait in traits" :key="trait.value" v-bind="trait" />
        </el-select>
      </label>
      <label class="field top">
        It also changes
        <el-select
          :model-value="fields.changesOnReturn"
          :persistent="false"
          multiple
          size="small"
          placeholder="nothing else"
          aria-label="Known to change"
          @update:model-value="(value: DestinationFields['changesOnReturn']) => set('changesOnReturn', value)"
        >
          <el-option v-for="trait in traits" :key="trait.value" v-bind="trait" />
        </el-select>
      </label>
      <label class="field top">
        Never carries
        <el-select
          :model-value="fields.neverTravels"
          :persistent="false"
          multiple
          size="small"
          placeholder="carries everything"
          aria-label="Never carries"
          @update:model-value="(value: DestinationFields['neverTravels']) => set('neverTravels', value)"
        >
          <el-option v-for="trait in traits" :key="trait.value" v-bind="trait" />
        </el-select>
      </label>
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
  --el-fill-color-light: var(--paper-sunk);
  --el-disabled-border-color: var(--hairline);
  --el-checkbox-disabled-icon-color: var(--ink-soft);
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
.field {
  display: grid;
  grid-template-columns: 108px minmax(0, 1fr);
  align-items: center;
  color: var(--ink-soft);
}
.field.top {
  align-items: start;
}
.field :deep(.el-input-number) {
  width: 100%;
}
/* tags and ticks of a form that is only read */
.form :deep(.is-disabled .el-checkbox__label),
.form :deep(.el-tag) {
  color: var(--ink);
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
}
</style>
