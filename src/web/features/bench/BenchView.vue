<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { onKeyStroke } from '../../kit/use-keys.ts'
import type { AssetDocument } from '../../../contract/api.ts'
import type { SceneInspection } from '../../../core/inspect/inspect-scene.ts'
import type { RecipeStep } from '../../../core/steps/recipe.ts'
import { api } from '../../api.ts'
import ModelViews from '../../kit/ModelViews.vue'
import SplitView from '../../kit/SplitView.vue'
import { useDescriptors } from '../../stores/descriptors.ts'
import { useNotices } from '../../stores/notices.ts'
import type { HighlightItem } from '../../viewport/viewer-messages.ts'
import { masterOf } from '../asset/place.ts'
import { askLength } from './ask-length.ts'
import ChoosingTools from './ChoosingTools.vue'
import FlatTools from './FlatTools.vue'
import EdgeLengthChart from './EdgeLengthChart.vue'
import PartFacts from './PartFacts.vue'
import PartPanel from './PartPanel.vue'
import SaveLayout from './SaveLayout.vue'
import { CHECKED_AT_ONCE, Stopped, useBench } from './use-bench.ts'
import { useChoosing } from './use-choosing.ts'
import { useDraft } from './use-draft.ts'
import { useHandPlacing } from './use-hand-placing.ts'
import { useFindings } from './use-findings.ts'
import { useLimits } from './use-limits.ts'
import { useParts } from './use-parts.ts'
import { useUvField } from './use-uv-field.ts'
import WorkPanel from './WorkPanel.vue'

/** Look at a version, find what is wrong with it, make it ready. */
const props = defineProps<{ asset: AssetDocument; versionId?: string }>()
const router = useRouter()
const notices = useNotices()
const descriptors = useDescriptors()
const failed = (error: unknown): void => {
  if (!(error instanceof Stopped)) notices.failed(error)
}
const bench = useBench()
const draft = useDraft(bench, failed)

/** A version that is no longer the master and has steps of the artist's: until the page's address says so too. */
const held = ref<string | null>(null)
const version = computed(() => {
  const wanted = props.versionId ?? held.value
  return props.asset.versions.find((candidate) => candidate.id === wanted) ?? masterOf(props.asset)
})
// somebody made a newer master: what is worked on stays before the artist
watch(
  () => masterOf(props.asset).id,
  async (_newest, before) => {
    if (props.versionId || draft.leftSteps().length === 0) return
    held.value = before
    await router.replace({ name: 'version', params: { assetId: props.asset.id, versionId: before } })
    held.value = null
  },
  { flush: 'sync' },
)
const isMaster = computed(() => version.value.id === masterOf(props.asset).id)
const views = ref<InstanceType<typeof ModelViews>>()
const panel = ref<'findings' | 'steps'>('findings')
const comparing = ref(false)

// one thing after another, each painted before the next; the model comes when all stands, since the workers that load
// and draw it take the processors from whatever is still built
const [PANEL, VIEWS, TOOLS, FLAT_TOOLS, SAVING, MODEL] = [2, 3, 4, 5, 6, 7]
const stage = ref(0)
onMounted(() => {
  const next = (): void => {
    stage.value++
    if (stage.value < MODEL) requestAnimationFrame(() => setTimeout(next, 0))
  }
  requestAnimationFrame(() => setTimeout(next, 0))
})

/** The stored version's own description, until the worker has the draft's. */
const stored = shallowRef<SceneInspection | null>(null)
const inspection = computed(() => draft.inspection.value ?? stored.value)
const unit = computed(() => inspection.value?.unitMeters ?? null)
const model = useParts(inspection)
const { selected, parts, part, names, materials } = model

// what the model is held against
const { heldAgainst, limits, base, settings } = useLimits()
const findings = useFindings(bench, draft, model, settings, () => views.value?.focus(), failed)
watch(settings, () => draft.checked.value && void findings.recheck())

// what is marked in the views
const previewMarks = computed<HighlightItem[]>(() =>
  panel.value === 'steps' && draft.preview.value
    ? draft.preview.value.places.map((entry) => ({ slot: 'master' as const, ...entry }))
    : [],
)
const choosing = useChoosing(bench, unit, (node) => (selected.value = node), failed)
const { mode, chosen, chosenSaid, ruling, ruler, pick } = choosing
const uvField = useUvField(
  bench,
  draft,
  computed(() => (selected.value === null ? parts.value.map(({ node }) => node) : [selected.value])),
  failed,
)
const { placing, reach, place, placed } = useHandPlacing(choosing, parts, (step) =>
  change((steps) => [...steps, step], true),
)
const wanted = shallowRef<{ readonly step: string } | null>(null)
// a form that was asked for once is not asked for again
watch(panel, (shown) => shown !== 'steps' && (wanted.value = null))
function byFigures(): void {
  panel.value = 'steps'
  wanted.value = { step: 'move-uvs' }
}
const highlights = computed<HighlightItem[]>(() => [
  ...(previewMarks.value.length ? previewMarks.value : findings.marks.value),
  ...uvField.marks.value,
  ...(chosen.value ?? []).map((one) => ({ slot: 'master' as const, ...one, chosen: true })),
])
watch(previewMarks, async (marked) => {
  await nextTick()
  if (marked.length) views.value?.focus()
})
const lengthsOf = async (node: number): Promise<Float64Array | null> =>
  (await views.value?.edgeLengths(node)) ?? null

/** Steps that move UVs and nothing else leave polygons, edges and corners their numbers. */
function keepsNumbers(steps: readonly RecipeStep[]): boolean {
  const before = draft.steps.value
  const same = (at: number): boolean => JSON.stringify(before[at]) === JSON.stringify(steps[at])
  const first = [...before, ...steps].findIndex((_, at) => !same(at))
  if (first < 0) return true
  return [...before.slice(first), ...steps.slice(first)].every(
    ({ step }) => descriptors.step(step)?.changes.join() === 'uvs',
  )
}
/** Milliseconds without another move after which the checks run again. */
const REST = 1200
let resting: ReturnType<typeof setTimeout> | undefined
/** One change after another: what comes while one is made, or while the checks run, goes on top of it. */
let working: Promise<void> = Promise.resolve()
function inTurn(work: () => Promise<void>): Promise<void> {
  working = working.then(work).catch(failed)
  return working
}
/** Changes that were asked for and are not made yet. */
const waiting = ref(0)
/** @param inARow others of its kind will follow: the checks wait for a rest. */
function change(
  next: (steps: readonly RecipeStep[]) => readonly RecipeStep[] | null,
  inARow = false,
): Promise<void> {
  clearTimeout(resting)
  waiting.value++
  return inTurn(async () => {
    try {
      const steps = next(draft.steps.value)
      if (steps) await apply(steps)
    } finally {
      waiting.value--
    }
    if (!draft.checked.value) return
    clearTimeout(resting)
    if (inARow) resting = setTimeout(() => void inTurn(findings.recheck), REST)
    else await findings.recheck()
  })
}
async function apply(steps: readonly RecipeStep[]): Promise<void> {
  findings.hide()
  if (!keepsNumbers(steps)) chosen.value = null
  const before = part.value?.id
  const refusal = await draft.setSteps(steps)
  if (refusal) notices.refused(refusal)
  selected.value = parts.value.find((candidate) => candidate.id === before)?.node ?? null
}
onBeforeUnmount(() => clearTimeout(resting))
/** The ruler's length as what it is in truth: a step of the draft. */
async function scaleToKnown(measured: number): Promise<void> {
  const centimetres = await askLength()
  if (centimetres === null) return
  await change((steps) => [
    ...steps,
    { step: 'scale-to-size', params: { measured, length: centimetres / 100 } },
  ])
  ruling.value = false
}
const undo = (): Promise<void> => change((steps) => (steps.length ? steps.slice(0, -1) : null))
onKeyStroke('Ctrl+z', () => void undo())

// one version after another
watch([() => version.value.sceneId, stage], async ([sceneId, at], [before]) => {
  if (at !== 1 && (sceneId === before || before === undefined)) return
  selected.value = null
  try {
    const { inspection: described } = await api.scene(sceneId)
    if (sceneId === version.value.sceneId) stored.value = described
  } catch (error) {
    notices.failed(error)
  }
})
/** The worker's own copy of the model; a large one is taken only when it is asked for. */
let opening: Promise<void> | null = null
function openDraft(): Promise<void> {
  opening ??= (async () => {
    await draft.open(version.value.sceneId, version.value.id)
    const left = draft.leftSteps()
    if (left.length) await draft.setSteps(left)
  })()
  return opening
}
const stopped = ref(false)
async function openAndCheck(): Promise<void> {
  stopped.value = false
  await openDraft()
  await draft.check(settings.value)
}
/** The worker takes the model when the views have it, so that the picture comes first. */
watch(
  [() => views.value?.loadedSlots.includes('master') ?? false, () => version.value.sceneId],
  async ([loaded, sceneId], [was, before]) => {
    if (sceneId !== before) {
      opening = null
      draft.close()
    }
    if (!loaded || (was && sceneId === before)) return
    if (version.value.polygons <= CHECKED_AT_ONCE) await openAndCheck()
  },
)
/** Ends a check or step that takes too long; the steps stay noted and are done again when asked for. */
function stopWork(): void {
  bench.stop()
  opening = null
  draft.close()
  stopped.value = true
}
watch(
  () => views.value?.attached ?? false,
  (attached) => {
    if (!attached) return
    bench.connect(() => {
      const line = new MessageChannel()
      views.value!.connect(line.port2)
      return line.port1
    })
  },
)
const PANES = [
  { slot: 'parts', size: 21 },
  { slot: 'views', size: 53, least: 25 },
  { slot: 'work', size: 26, least: 16 },
] as const
</script>

<template>
  <SplitView name="bench" :panes="PANES" class="bench">
    <template #parts>
      <PartPanel
        v-model:selected="selected"
        :asset="asset"
        :version="version"
        :is-master="isMaster"
        :step-count="draft.records.value.length"
        :inspection="inspection"
        :messages="stored?.messages ?? []"
        :parts="parts"
        :part="part"
        :materials="materials"
        :findings="draft.findings.value"
      />
    </template>
    <template #views>
      <ModelViews
        v-if="stage >= VIEWS"
        ref="views"
        :master-scene="stage >= MODEL ? version.sceneId : null"
        :returned-scene="comparing ? version.sceneId : null"
        :sides="['with the steps', 'as it was']"
        :selected-node="selected"
        :highlights="highlights"
        :picking="mode !== 'part' || ruling"
        :ruler="ruler"
        :quiet="true"
        :placing="placing"
        :gives-way="reach"
        :has-before="draft.records.value.length > 0"
        @placed="placed"
        @select="(node) => (selected = node)"
        @pick="pick"
      >
        <template #tools>
          <ChoosingTools v-if="stage >= TOOLS" :choosing="choosing" @known-size="scaleToKnown" />
          <el-checkbox v-if="draft.records.value.length" v-model="comparing" size="small"
            >As it was</el-checkbox
          >
        </template>
        <template v-if="stage >= SAVING" #flat>
          <SaveLayout :bench="bench" :name="asset.name" :node="selected" />
        </template>
        <template v-if="stage >= FLAT_TOOLS" #flat-tools>
          <FlatTools
            v-model:field="uvField.kind.value"
            v-model:reach="reach"
            :draws="placing === 'corners'"
            :chosen="placing ? chosenSaid : null"
            :fields="uvField.fields.value"
            :unit-meters="unit"
            @place="place"
            @exactly="byFigures"
          />
        </template>
        <template v-if="part" #foot>
          <div class="facts">
            <PartFacts :mesh="part.mesh" :unit-meters="unit" :up-axis="inspection?.upAxis ?? 'y'" />
            <EdgeLengthChart
              v-if="draft.records.value.length === 0"
              :node="part.node"
              :unit-meters="unit"
              :lengths-of="lengthsOf"
            />
          </div>
        </template>
      </ModelViews>
    </template>
    <template #work>
      <WorkPanel
        v-if="stage >= PANEL"
        v-model:panel="panel"
        v-model:held-against="heldAgainst"
        v-model:limits="limits"
        :asset="asset"
        :version="version"
        :bench="bench"
        :draft="draft"
        :parts="parts"
        :part="part"
        :names="names"
        :unit-meters="unit"
        :chosen="chosen"
        :shown="findings.shown.value"
        :limits-base="base"
        :stopped="stopped"
        :waiting="waiting > 0"
        :wanted="wanted"
        @show="findings.show"
        @change="change"
        @undo="undo"
        @check="openAndCheck"
        @stop="stopWork"
        @open="openDraft"
      />
    </template>
  </SplitView>
</template>

<style scoped>
.bench {
  /* what is added later moves nothing */
  contain: layout;
}
.facts {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 20px;
  align-items: start;
  padding: 8px 14px;
}
</style>
