<script setup lang="ts">
import { computed, ref } from 'vue'
import type { SavedRecipe } from '../../../contract/recipes.ts'
import { portableRecipe, type RecipeStep } from '../../../core/steps/recipe.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import type { DraftRecord } from '../../../app/bench.ts'
import { formatChange, formatCount } from '../../kit/format.ts'
import { countOfChosen } from './use-choosing.ts'

/** The steps of the draft: recorded, put in order, taken back, saved as a recipe, kept as a version. */
const descriptors = useDescriptors()
const props = defineProps<{
  records: readonly DraftRecord[]
  recipes: readonly SavedRecipe[]
  busy: boolean
  nextVersion: number
}>()
const emit = defineEmits<{
  steps: [steps: RecipeStep[]]
  keep: []
  save: [name: string]
  take: [recipe: SavedRecipe]
  drop: [recipe: SavedRecipe]
  file: [recipe: SavedRecipe]
  rename: [recipe: SavedRecipe, name: string]
}>()
const name = ref('')
const naming = ref(false)

const moved = (records: readonly DraftRecord[], from: number, to: number): RecipeStep[] => {
  const steps = records.map((record) => record.step)
  const [step] = steps.splice(from, 1)
  steps.splice(to, 0, step!)
  return steps
}
const without = (records: readonly DraftRecord[], at: number): RecipeStep[] =>
  records.filter((_record, index) => index !== at).map((record) => record.step)
const portable = computed(
  () =>
    portableRecipe(
      { name: '', steps: props.records.map((record) => record.step) },
      (id, at) => props.records[at]?.paths[id] ?? null,
    ).steps,
)
function limits({ step, paths }: DraftRecord): string {
  if (step.only)
    return `on ${formatCount(countOfChosen(step.only))} chosen ${step.only[0]?.element === 'faces' ? 'polygons' : (step.only[0]?.element ?? 'polygons')}`
  const parts = [...(step.parts ?? []), ...(step.nodes ?? []).map((id) => paths[id] ?? 'one part')]
  if (parts.length === 0) return ''
  return `on ${parts.length === 1 ? parts[0]!.split('/').pop()! : `${parts.length} parts`}`
}
const parameters = (step: RecipeStep): string =>
  Object.entries(step.params)
    .map(
      ([key, value]) => `${key} ${typeof value === 'number' ? Number(value.toPrecision(3)) : String(value)}`,
    )
    .join(', ')
function save(): void {
  emit('save', name.value.trim())
  naming.value = false
  name.value = ''
}
const renaming = ref<string | null>(null)
const newName = ref('')
</script>

<template>
  <div class="draft">
    <h2>Done to this version</h2>
    <p v-if="records.length === 0" class="soft">
      Nothing yet. Mend a finding, or add a step above. Nothing is changed for good until you keep it as a
      version.
    </p>
    <ol v-else aria-label="Steps of the draft">
      <li v-for="(record, at) in records" :key="at">
        <div class="what">
          <b>{{ descriptors.step(record.step.step)?.title }}</b>
          <span class="soft">
            {{ formatChange(record.changedCount, record.of) }} {{ limits(record)
            }}<template v-if="parameters(record.step)">; {{ parameters(record.step) }}</template>
          </span>
        </div>
        <div class="handles">
          <el-button
            link
            size="small"
            :disabled="busy || at === 0"
            aria-label="Earlier"
            @click="emit('steps', moved(records, at, at - 1))"
          >
            ↑
          </el-button>
          <el-button
            link
            size="small"
            :disabled="busy || at === records.length - 1"
            aria-label="Later"
            @click="emit('steps', moved(records, at, at + 1))"
          >
            ↓
          </el-button>
          <el-button
            link
            size="small"
            :disabled="busy"
            aria-label="Take this step back"
            @click="emit('steps', without(records, at))"
          >
            ✕
          </el-button>
        </div>
      </li>
    </ol>
    <div v-if="records.length" class="buttons">
      <el-button type="primary" size="small" :disabled="busy" @click="emit('keep')"
        >Keep as version {{ nextVersion }}</el-button
      >
      <el-button size="small" :disabled="busy" @click="emit('steps', without(records, records.length - 1))"
        >Undo</el-button
      >
      <el-button size="small" text :disabled="busy || portable.length === 0" @click="naming = !naming"
        >Save as recipe</el-button
      >
    </div>
    <form v-if="naming" class="naming" @submit.prevent="save">
      <el-input
        v-model="name"
        size="small"
        placeholder="Name of the recipe"
        maxlength="120"
        aria-label="Name of the recipe"
      />
      <el-button size="small" native-type="submit" :disabled="!name.trim()">Save</el-button>
    </form>
    <h2 class="saved">Recipes</h2>
    <p v-if="recipes.length === 0" class="soft">
      A saved list of steps can be used again, here on any asset and on the command line.
    </p>
    <ul v-else aria-label="Recipes">
      <li v-for="recipe in recipes" :key="recipe.id">
        <form
          v-if="renaming === recipe.id"
          class="naming"
          @submit.prevent="(emit('rename', recipe, newName.trim()), (renaming = null))"
        >
          <el-input v-model="newName" size="small" maxlength="120" aria-label="New name" />
          <el-button size="small" native-type="submit" :disabled="!newName.trim()">Rename</el-button>
        </form>
        <template v-else>
          <div class="what">
            <b>{{ recipe.name }}</b>
            <span class="soft">{{
              recipe.steps.map((step) => descriptors.step(step.step)?.title ?? step.step).join(', ')
            }}</span>
          </div>
          <div class="handles">
            <el-button size="small" text :disabled="busy" @click="emit('take', recipe)">Use</el-button>
            <el-button
              link
              size="small"
              aria-label="Save as a file for the command line"
              title="As a file for the command line"
              @click="emit('file', recipe)"
            >
              ⤓
            </el-button>
            <el-button
              link
              size="small"
              aria-label="Rename"
              @click="((renaming = recipe.id), (newName = recipe.name))"
            >
              ✎
            </el-button>
            <el-button link size="small" aria-label="Delete this recipe" @click="emit('drop', recipe)"
              >✕</el-button
            >
          </div>
        </template>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.draft {
  padding: 10px 12px;
}
h2 {
  margin-bottom: 4px;
}
.saved {
  margin-top: 18px;
}
ol,
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 8px;
  padding: 5px 0;
  border-bottom: 1px solid var(--hairline);
}
.what {
  flex: 1;
  min-width: 0;
}
.what b {
  font-weight: 550;
  display: block;
}
.what .soft {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  line-clamp: 2;
  overflow: hidden;
  overflow-wrap: anywhere;
}
.handles {
  display: flex;
  gap: 2px;
  align-items: flex-start;
}
.handles .el-button {
  width: 20px;
  text-align: center;
  color: var(--ink-soft);
}
.handles .el-button + .el-button {
  margin-left: 0;
}
.handles .el-button.is-disabled {
  opacity: 0.35;
  cursor: default;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 10px;
}
.buttons :deep(.el-button) {
  margin-left: 0;
}
.naming {
  display: flex;
  gap: 8px;
  margin-top: 8px;
  flex: 1;
}
p {
  margin: 2px 0 6px;
}
</style>
