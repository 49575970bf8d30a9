<script setup lang="ts">
import type { Chosen } from '../../../core/steps/grow-selection.ts'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { AssetDocument, VersionSummary } from '../../../contract/api.ts'
import type { CheckSettings } from '../../../core/checks/settings.ts'
import { portableRecipe, type RecipeStep } from '../../../core/steps/recipe.ts'
import { overNewest } from '../asset/moved-on.ts'
import { api } from '../../api.ts'
import { useStillHere } from '../../kit/still-here.ts'
import { formatChange, formatCount, unitName } from '../../kit/format.ts'
import JobProgress from '../../kit/JobProgress.vue'
import { useAssets } from '../../stores/assets.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import { useJobs } from '../../stores/jobs.ts'
import { useNotices } from '../../stores/notices.ts'
import { masterOf } from '../asset/place.ts'
import CheckLimits from './CheckLimits.vue'
import DraftSteps from './DraftSteps.vue'
import FindingsPanel from './FindingsPanel.vue'
import StepForm from './StepForm.vue'
import { CHECKED_AT_ONCE, type useBench } from './use-bench.ts'
import type { useDraft } from './use-draft.ts'
import type { PartEntry } from './use-parts.ts'
import { useRecipes } from './use-recipes.ts'

/** What can be done to the version on the bench: look at findings and mend them, add steps, keep it as a version. */
const props = defineProps<{
  asset: AssetDocument
  version: VersionSummary
  bench: ReturnType<typeof useBench>
  draft: ReturnType<typeof useDraft>
  parts: readonly PartEntry[]
  part: PartEntry | null
  names: readonly string[]
  unitMeters: number | null
  chosen: readonly Chosen[] | null
  /** The finding on show. */
  shown: { index: number; place: number | null } | null
  /** What the model is held against where nothing is set beside it. */
  limitsBase: CheckSettings
  stopped: boolean
  /** Changes were asked for that are not made yet. */
  waiting: boolean
  /** A step that the form is to begin with, on what is chosen. */
  wanted: { readonly step: string } | null
}>()
const emit = defineEmits<{
  show: [index: number, place: number | null]
  /** What becomes of the steps as they stand when their turn comes. */
  change: [next: (steps: readonly RecipeStep[]) => readonly RecipeStep[]]
  undo: []
  check: []
  stop: []
  /** The artist turns to the steps: the worker has to have the model. */
  open: []
}>()
const panel = defineModel<'findings' | 'steps'>('panel', { required: true })
const heldAgainst = defineModel<string>('heldAgainst', { required: true })
const limits = defineModel<Partial<CheckSettings>>('limits', { required: true })
const router = useRouter()
const assets = useAssets()
const descriptors = useDescriptors()
const jobs = useJobs()
const notices = useNotices()
const recipes = useRecipes()
const keepJob = ref<string | null>(null)
watch(panel, (shown) => shown === 'steps' && emit('open'))

const lastStep = computed(() => {
  const last = props.draft.records.value.at(-1)
  return last
    ? `${descriptors.step(last.step.step)?.title}: ${formatChange(last.changedCount, last.of)}`
    : null
})
const chosenForStep = computed(() => {
  const known = (props.chosen ?? []).flatMap(({ node, element, elements }) => {
    const id = props.parts.find((candidate) => candidate.node === node)?.id
    return id === undefined || elements.length === 0 ? [] : [{ node: id, element, elements: [...elements] }]
  })
  return known.length ? known : null
})
const add = (steps: readonly RecipeStep[]): void => emit('change', (before) => [...before, ...steps])

const growth = shallowRef<{ distance: number; welded: number }[] | null>(null)
async function askGrowth(): Promise<void> {
  growth.value = null
  try {
    growth.value = await props.bench.ask('growth', {
      nodes: props.part ? [props.part.node] : props.parts.map((entry) => entry.node),
    })
  } catch (error) {
    notices.failed(error)
  }
}
const saveRecipe = (name: string): Promise<void> =>
  recipes.save(
    portableRecipe(
      { name, steps: props.draft.steps.value },
      (id, at) => props.draft.records.value[at]?.paths[id] ?? null,
    ),
  )

/** The version that comes of the draft. */
const watchHere = useStillHere(() => props.asset.id)
async function keepVersion(): Promise<void> {
  const isHere = watchHere()
  try {
    const recipe = {
      name: 'Made ready on the bench',
      steps: JSON.parse(JSON.stringify(props.draft.steps.value)) as RecipeStep[],
    }
    // places are numbers of this version's elements: on another one they would be other places
    const fitsAnother = recipe.steps.every((step) => !step.only)
    const started = await overNewest(
      { assets, router },
      props.asset.id,
      (beside) => api.prepare(props.asset.id, props.version.id, recipe, beside),
      fitsAnother ? (newest) => api.prepare(props.asset.id, newest, recipe, null) : null,
      ', without these steps',
    )
    if (!started) return
    keepJob.value = started.jobId
    const job = await jobs.finished(keepJob.value)
    props.draft.forget()
    await assets.open(props.asset.id)
    notices.done(`Version ${String(job.result!.versionNumber)} is the new master.`)
    if (isHere()) await router.push({ name: 'bench', params: { assetId: props.asset.id } })
  } catch (error) {
    notices.failed(error)
  } finally {
    keepJob.value = null
  }
}
</script>

<template>
  <div class="right">
    <div class="tabs">
      <div role="tablist" aria-label="Checks and steps">
        <button role="tab" class="plain" :aria-selected="panel === 'findings'" @click="panel = 'findings'">
          Findings
        </button>
        <button role="tab" class="plain" :aria-selected="panel === 'steps'" @click="panel = 'steps'">
          Steps<template v-if="draft.records.value.length"> ({{ draft.records.value.length }})</template>
        </button>
      </div>
      <CheckLimits v-model:destination="heldAgainst" v-model:settings="limits" :base="limitsBase" />
    </div>
    <div v-if="bench.progress.value && draft.busy.value" class="working" role="status">
      <span>{{ bench.progress.value.stage }}</span>
      <el-button size="small" text @click="emit('stop')">Stop</el-button>
      <i :style="{ width: `${bench.progress.value.share * 100}%` }"></i>
    </div>
    <div v-if="keepJob" class="working"><JobProgress :job-id="keepJob" /></div>
    <div v-if="panel === 'findings'" class="body">
      <FindingsPanel
        v-if="draft.checked.value"
        :findings="draft.findings.value"
        :names="names"
        :shown="shown"
        :busy="draft.busy.value"
        :selected-node="part?.node ?? null"
        @show="(index, place) => emit('show', index, place)"
        :last="lastStep"
        @mend="add"
        @undo="emit('undo')"
      />
      <div v-else class="ask">
        <p v-if="draft.busy.value || (version.polygons <= CHECKED_AT_ONCE && !stopped)" class="soft">
          {{
            bench.progress.value
              ? 'What the checks find comes here when they are through.'
              : 'The checks begin when the model is on screen.'
          }}
        </p>
        <template v-else>
          <p>
            This model is large ({{ formatCount(version.polygons) }} polygons); checking it takes a while.
          </p>
          <el-button type="primary" size="small" @click="emit('check')">Check it</el-button>
        </template>
      </div>
    </div>
    <div v-else class="body steps">
      <StepForm
        :preview="draft.preview.value"
        :busy="waiting || draft.changing.value || !draft.inspection.value"
        :selected-part="part?.id ?? null"
        :chosen="chosenForStep"
        :wanted="wanted"
        :growth="growth"
        :unit="unitName(unitMeters)"
        @change="draft.look"
        @apply="(step) => add([step])"
        @growth="askGrowth"
      />
      <DraftSteps
        :records="draft.records.value"
        :recipes="recipes.recipes.value"
        :busy="waiting || draft.changing.value || keepJob !== null"
        :next-version="masterOf(asset).number + 1"
        @steps="(steps) => emit('change', () => steps)"
        @keep="keepVersion"
        @save="saveRecipe"
        @file="recipes.download"
        @take="(recipe) => add(recipe.steps)"
        @drop="recipes.drop"
        @rename="recipes.rename"
      />
    </div>
  </div>
</template>

<style scoped>
.right {
  display: flex;
  flex-direction: column;
  height: 100%;
  min-height: 0;
}
.tabs {
  display: flex;
  align-items: center;
  gap: 12px;
  height: 34px;
  flex: none;
  padding: 0 6px 0 12px;
  border-bottom: 1px solid var(--hairline);
}
.tabs [role='tablist'] {
  display: flex;
  gap: 14px;
}
.tabs [role='tab'] {
  line-height: 32px;
  border-bottom: 2px solid transparent;
  color: var(--ink-soft);
}
.tabs [aria-selected='true'] {
  color: var(--ink);
  border-color: var(--accent);
  font-weight: 550;
}
.body {
  flex: 1;
  min-height: 0;
}
.steps {
  overflow: auto;
}
.working {
  display: flex;
  align-items: center;
  justify-content: space-between;
  position: relative;
  padding: 5px 12px 7px;
  border-bottom: 1px solid var(--hairline);
  color: var(--ink-soft);
}
.working > i {
  position: absolute;
  left: 0;
  bottom: 0;
  height: 2px;
  background: var(--accent);
}
.ask {
  padding: 16px 12px;
}
</style>
