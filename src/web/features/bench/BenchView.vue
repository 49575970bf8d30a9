<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { useLimits } from './use-limits.ts'
import { useRouter } from 'vue-router'
import type { AssetDocument } from '../../../contract/api.ts'
import type { PartLabel, PartRole } from '../../../contract/recipes.ts'
import { GROW_KINDS } from '../../../core/steps/grow-selection.ts'
import { portableRecipe, type RecipeStep } from '../../../core/steps/recipe.ts'
import { api } from '../../api.ts'
import CheckLimits from './CheckLimits.vue'
import DraftSteps from './DraftSteps.vue'
import EdgeLengthChart from './EdgeLengthChart.vue'
import FindingsPanel from './FindingsPanel.vue'
import JobProgress from '../../kit/JobProgress.vue'
import MessageList from '../../kit/MessageList.vue'
import ModelViews from '../../kit/ModelViews.vue'
import PartFacts from './PartFacts.vue'
import PartMarkForm from './PartMarkForm.vue'
import PartsTable from './PartsTable.vue'
import StepForm from './StepForm.vue'
import { formatChange, formatCount, formatSize, formatTime, unitName } from '../../kit/format.ts'
import { DEFAULT_MARK } from '../../kit/part-marks.ts'
import { masterOf } from '../asset/place.ts'
import { MODE_WORDS, useChoosing } from './use-choosing.ts'
import { useRecipes } from './use-recipes.ts'
import { Stopped, useBench } from './use-bench.ts'
import { useDraft } from './use-draft.ts'
import { useAssets } from '../../stores/assets.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import { useJobs } from '../../stores/jobs.ts'
import { useNotices } from '../../stores/notices.ts'
import type { HighlightItem } from '../../viewport/viewer-messages.ts'

/** Look at a version, find what is wrong with it, make it ready. */
const props = defineProps<{ asset: AssetDocument; versionId?: string }>()
const router = useRouter()
const assets = useAssets()
const descriptors = useDescriptors()
const jobs = useJobs()
const notices = useNotices()
const bench = useBench()
const lengthsOf = async (node: number): Promise<Float64Array | null> =>
  (await views.value?.edgeLengths(node)) ?? null
const failed = (error: unknown): void => {
  if (!(error instanceof Stopped)) notices.failed(error)
}
const draft = useDraft(bench, failed)

/** Polygons beyond which the checks wait to be asked for. */
const CHECKED_AT_ONCE = 300000

const version = computed(
  () => props.asset.versions.find((candidate) => candidate.id === props.versionId) ?? masterOf(props.asset),
)
const isMaster = computed(() => version.value.id === masterOf(props.asset).id)
const selected = ref<number | null>(null)
const views = ref<InstanceType<typeof ModelViews>>()
const filter = ref('')
const panel = ref<'findings' | 'steps'>('findings')
const comparing = ref(false)
const keepJob = ref<string | null>(null)

// the lists are painted before the views and the worker start, which would hold the page up together
const stage = ref(0)
onMounted(() => {
  const next = (): void => {
    stage.value++
    if (stage.value < 5) requestAnimationFrame(() => setTimeout(next, 0))
  }
  requestAnimationFrame(() => setTimeout(next, 0))
})

/** The stored version's own description, until the worker has the draft's. */
const stored = shallowRef<Awaited<ReturnType<typeof api.scene>>['inspection'] | null>(null)
const inspection = computed(() => draft.inspection.value ?? stored.value)
const unit = computed(() => inspection.value?.unitMeters ?? null)
const parts = computed(() =>
  (inspection.value?.nodes ?? []).flatMap((node, index) =>
    node.mesh === null
      ? []
      : [
          {
            node: index,
            id: node.id,
            name: node.name,
            path: node.path,
            mesh: inspection.value!.meshes[node.mesh]!,
          },
        ],
  ),
)
/** Paths of nodes by their ids, for steps that are to be used on other models. */
const paths = computed(() => new Map((inspection.value?.nodes ?? []).map((node) => [node.id, node.path])))
const listed = computed(() =>
  parts.value.filter((part) => part.name.toLowerCase().includes(filter.value.trim().toLowerCase())),
)
const names = computed(() => (inspection.value?.nodes ?? []).map((node) => node.name))
const part = computed(() => parts.value.find((candidate) => candidate.node === selected.value) ?? null)
const materials = computed(() => {
  const own = part.value?.mesh.materials.map((material) => material.name)
  return (inspection.value?.materials ?? []).filter((material) => !own || own.includes(material.name))
})
const graves = computed(() => {
  const map = new Map<number, string>()
  for (const finding of draft.findings.value)
    if (finding.node !== null && finding.severity !== 'info') map.set(finding.node, finding.severity)
  return map
})

// what the model is held against
const { heldAgainst, limits, base, settings } = useLimits()
watch(settings, () => draft.checked.value && void recheck())

// what is marked in the views
const finding = shallowRef<{ index: number; place: number | null } | null>(null)
const findingMarks = shallowRef<HighlightItem[]>([])
const previewMarks = computed<HighlightItem[]>(() =>
  panel.value === 'steps' && draft.preview.value
    ? draft.preview.value.places.map((entry) => ({ slot: 'master' as const, ...entry }))
    : [],
)
const { mode, chosen, ruling, ruler, distance, pick } = useChoosing(
  bench,
  unit,
  (node) => (selected.value = node),
  failed,
)
const highlights = computed<HighlightItem[]>(() => [
  ...(previewMarks.value.length ? previewMarks.value : findingMarks.value),
  ...(chosen.value
    ? [
        {
          slot: 'master' as const,
          node: chosen.value.node,
          element: 'faces' as const,
          elements: chosen.value.faces,
          chosen: true,
        },
      ]
    : []),
])

watch(previewMarks, async (marked) => {
  await nextTick()
  if (marked.length) views.value?.focus()
})

async function show(index: number, place: number | null): Promise<void> {
  finding.value = { index, place }
  const about = draft.findings.value.find((candidate) => candidate.index === index)
  try {
    const places = await bench.ask('places', { index, place })
    findingMarks.value = places ? [{ slot: 'master', ...places }] : []
    const node = about?.node ?? (about?.nodes.length === 1 ? about.nodes[0]! : null)
    if (node !== null && names.value[node] !== undefined && parts.value.some((entry) => entry.node === node))
      selected.value = node
    await nextTick()
    views.value?.focus()
  } catch (error) {
    notices.failed(error)
  }
}
function hideFinding(): void {
  finding.value = null
  findingMarks.value = []
}

async function recheck(): Promise<void> {
  const was = finding.value
    ? draft.findings.value.find((entry) => entry.index === finding.value!.index)
    : null
  hideFinding()
  await draft.check(settings.value)
  const again =
    was &&
    draft.findings.value.find(
      (entry) => entry.check === was.check && entry.problem === was.problem && entry.node === was.node,
    )
  if (again) finding.value = { index: again.index, place: null }
}

async function setSteps(steps: readonly RecipeStep[]): Promise<void> {
  hideFinding()
  chosen.value = null
  const before = part.value?.id
  const refusal = await draft.setSteps(steps)
  if (refusal) notices.refused(refusal)
  selected.value = parts.value.find((candidate) => candidate.id === before)?.node ?? null
  if (draft.checked.value) await recheck()
}
const mend = (steps: RecipeStep[]): Promise<void> => setSteps([...draft.steps.value, ...steps])
const undo = async (): Promise<void> => {
  if (draft.steps.value.length && !draft.busy.value) await setSteps(draft.steps.value.slice(0, -1))
}
const lastStep = computed(() => {
  const last = draft.records.value[draft.records.value.length - 1]
  return last
    ? `${descriptors.step(last.step.step)?.title}: ${formatChange(last.changedCount, last.of)}`
    : null
})
function onKey(event: KeyboardEvent): void {
  const target = event.target as HTMLElement
  if (/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) return
  if (event.key === 'z' && (event.ctrlKey || event.metaKey)) {
    event.preventDefault()
    void undo()
  }
}
onMounted(() => addEventListener('keydown', onKey))
onBeforeUnmount(() => removeEventListener('keydown', onKey))

// one version after another
watch([() => version.value.sceneId, stage], async ([sceneId, at], [before]) => {
  if (at === 1 || (sceneId !== before && before !== undefined)) {
    selected.value = null
    try {
      stored.value = (await api.scene(sceneId)).inspection
    } catch (error) {
      notices.failed(error)
    }
  }
})
/** The worker's own copy of the model; a large one is fetched only when it is asked for. */
let opening: Promise<void> | null = null
function openDraft(): Promise<void> {
  opening ??= (async () => {
    await draft.open(version.value.sceneId, version.value.id)
    const left = draft.leftSteps()
    if (left.length) await draft.setSteps(left)
  })()
  return opening
}
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
const stopped = ref(false)
watch(panel, (shown) => shown === 'steps' && void openDraft())
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

const chosenForStep = computed(() => {
  const id = parts.value.find((candidate) => candidate.node === chosen.value?.node)?.id
  return chosen.value && id !== undefined ? { node: id, elements: [...chosen.value.faces] } : null
})
// weld growth
const growth = shallowRef<{ distance: number; welded: number }[] | null>(null)
async function askGrowth(): Promise<void> {
  growth.value = null
  try {
    growth.value = await bench.ask('growth', {
      nodes: part.value ? [part.value.node] : parts.value.map((entry) => entry.node),
    })
  } catch (error) {
    notices.failed(error)
  }
}
// marks of parts
const marks = computed(() => props.asset.partMarks)
const mark = computed(() => (part.value ? (marks.value[part.value.id] ?? DEFAULT_MARK) : DEFAULT_MARK))
async function setMark(change: { role?: PartRole; label?: PartLabel }): Promise<void> {
  if (!part.value) return
  try {
    await api.markParts(props.asset.id, { [part.value.id]: { ...mark.value, ...change } })
    await assets.open(props.asset.id)
  } catch (error) {
    notices.failed(error)
  }
}

// the version that comes of the draft
const recipes = useRecipes()
async function keepVersion(): Promise<void> {
  try {
    const recipe = {
      name: 'Made ready on the bench',
      steps: JSON.parse(JSON.stringify(draft.steps.value)) as RecipeStep[],
    }
    keepJob.value = (await api.prepare(props.asset.id, version.value.id, recipe)).jobId
    const job = await jobs.finished(keepJob.value)
    draft.forget()
    await assets.open(props.asset.id)
    notices.done(`Version ${String(job.result!.versionNumber)} is the new master.`)
    if (props.versionId) await router.push({ name: 'bench', params: { assetId: props.asset.id } })
  } catch (error) {
    notices.failed(error)
  } finally {
    keepJob.value = null
  }
}
</script>

<template>
  <div class="split bench">
    <div class="panel left">
      <div class="whole">
        <h2>
          Version {{ version.number }}<template v-if="isMaster">, the master</template>
          <template v-if="draft.records.value.length"
            >, with {{ draft.records.value.length }}
            {{ draft.records.value.length === 1 ? 'step' : 'steps' }}</template
          >
        </h2>
        <p class="soft">{{ version.note }} · {{ formatTime(version.createdAt) }}</p>
        <p v-if="inspection" class="size">{{ formatSize(inspection.bounds, unit, inspection.upAxis) }}</p>
      </div>
      <div class="list">
        <el-input
          v-if="parts.length > 14"
          v-model="filter"
          size="small"
          placeholder="Find a part"
          clearable
        />
        <PartsTable
          :parts="listed"
          :marks="marks"
          :selected-node="selected"
          :graves="graves"
          @select="(node) => (selected = node)"
        />
      </div>
      <div v-if="inspection" class="detail">
        <template v-if="part">
          <h2>{{ part.name }}</h2>
          <PartMarkForm :mark="mark" @change="setMark" />
        </template>
        <h2>Materials</h2>
        <ul class="materials">
          <li v-for="material in materials" :key="material.name">
            {{ material.name }}
            <span class="soft">
              <template v-if="material.maps.length">
                {{ material.maps.map((map) => (map.found ? map.slot : `${map.slot} (missing)`)).join(', ') }}
              </template>
              <template v-else>no maps</template>
            </span>
          </li>
          <li v-if="!materials.length" class="soft">none</li>
        </ul>
        <template v-if="stored?.messages.length">
          <h2>What reading it had to say</h2>
          <MessageList :messages="stored.messages" />
        </template>
      </div>
    </div>
    <ModelViews
      v-if="stage > 1"
      ref="views"
      :master-scene="version.sceneId"
      :returned-scene="comparing ? version.sceneId : null"
      :sides="['with the steps', 'as it was']"
      :selected-node="selected"
      :highlights="highlights"
      :picking="mode !== 'part' || ruling"
      :ruler="ruler"
      :quiet="true"
      @select="(node) => (selected = node)"
      @pick="pick"
    >
      <template #tools>
        <label class="choose">
          <span class="soft">Choose</span>
          <el-select
            v-if="stage > 2"
            v-model="mode"
            :persistent="false"
            size="small"
            aria-label="What a click chooses"
          >
            <el-option v-for="kind in GROW_KINDS" :key="kind" :label="MODE_WORDS[kind]" :value="kind" />
          </el-select>
        </label>
        <span v-if="chosen" class="soft">{{ formatCount(chosen.faces.length) }} chosen</span>
        <el-checkbox v-model="ruling" size="small">Ruler</el-checkbox>
        <span v-if="ruling" class="ruler" aria-live="polite">{{
          distance ?? (ruler.length ? 'click the second point' : 'click two points')
        }}</span>
        <el-checkbox v-if="draft.records.value.length" v-model="comparing" size="small"
          >As it was</el-checkbox
        >
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
    <div v-else></div>
    <div v-if="stage > 3" class="right">
      <div class="tabs">
        <div role="tablist" aria-label="Checks and steps">
          <button role="tab" class="plain" :aria-selected="panel === 'findings'" @click="panel = 'findings'">
            Findings
          </button>
          <button role="tab" class="plain" :aria-selected="panel === 'steps'" @click="panel = 'steps'">
            Steps<template v-if="draft.records.value.length"> ({{ draft.records.value.length }})</template>
          </button>
        </div>
        <CheckLimits
          v-if="stage > 4"
          v-model:destination="heldAgainst"
          v-model:settings="limits"
          :base="base"
        />
      </div>
      <div v-if="bench.progress.value && draft.busy.value" class="working" role="status">
        <span>{{ bench.progress.value.stage }}</span>
        <el-button size="small" text @click="stopWork">Stop</el-button>
        <i :style="{ width: `${bench.progress.value.share * 100}%` }"></i>
      </div>
      <div v-if="keepJob" class="working"><JobProgress :job-id="keepJob" /></div>
      <div v-if="panel === 'findings'" class="body">
        <FindingsPanel
          v-if="draft.checked.value"
          :findings="draft.findings.value"
          :names="names"
          :shown="finding"
          :busy="draft.busy.value"
          :selected-node="selected"
          @show="show"
          :last="lastStep"
          @mend="mend"
          @undo="undo"
        />
        <div v-else class="ask">
          <p v-if="draft.busy.value || (version.polygons <= CHECKED_AT_ONCE && !stopped)" class="soft">
            The checks begin when the model is on screen.
          </p>
          <template v-else>
            <p>
              This model is large ({{ formatCount(version.polygons) }} polygons); checking it takes a while.
            </p>
            <el-button type="primary" size="small" @click="openAndCheck">Check it</el-button>
          </template>
        </div>
      </div>
      <div v-else class="body steps">
        <StepForm
          :preview="draft.preview.value"
          :busy="draft.busy.value || !draft.inspection.value"
          :selected-part="part?.id ?? null"
          :chosen="chosenForStep"
          :growth="growth"
          :unit="unitName(unit)"
          @change="draft.look"
          @apply="(step) => setSteps([...draft.steps.value, step])"
          @growth="askGrowth"
        />
        <DraftSteps
          :records="draft.records.value"
          :recipes="recipes.recipes.value"
          :busy="draft.busy.value || keepJob !== null"
          :next-version="masterOf(asset).number + 1"
          @steps="setSteps"
          @keep="keepVersion"
          :paths="paths"
          @save="
            (name) =>
              recipes.save(portableRecipe({ name, steps: draft.steps.value }, (id) => paths.get(id) ?? null))
          "
          @file="recipes.download"
          @take="(recipe) => setSteps([...draft.steps.value, ...recipe.steps])"
          @drop="recipes.drop"
          @rename="recipes.rename"
        />
      </div>
    </div>
  </div>
</template>

<style scoped>
.bench {
  grid-template-columns: 270px minmax(0, 1fr) 336px;
  /* what is added later moves nothing */
  contain: layout;
}
.left {
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 10px 0 0 14px;
  overflow: hidden;
}
.whole p {
  margin: 1px 12px 0 0;
}
.whole .size {
  font-size: 14px;
  font-weight: 500;
}
.list {
  overflow: auto;
  min-height: 150px;
  flex: 1 1 auto;
  padding-right: 12px;
}
.detail {
  flex: 0 1 auto;
  max-height: 50%;
  overflow: auto;
  padding: 8px 12px 8px 0;
  border-top: 1px solid var(--ink);
}
.materials {
  list-style: none;
  margin: 4px 0 12px;
  padding: 0;
}
.materials li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding: 3px 0;
  border-bottom: 1px solid var(--hairline);
}
.choose {
  display: flex;
  align-items: center;
  gap: 6px;
  margin: 0 10px 0 4px;
  white-space: nowrap;
}
.choose :deep(.el-select) {
  width: 118px;
}
.ruler {
  font-weight: 600;
  margin-right: 12px;
  white-space: nowrap;
}
.facts {
  padding: 8px 12px;
}
.right {
  display: flex;
  flex-direction: column;
  min-height: 0;
  border-left: 1px solid var(--hairline);
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
