<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import type { AssetDocument, TripDetail } from '../../../contract/api.ts'
import { type LedgerRowDocument } from '../../../contract/ledger.ts'
import type { HandPair } from '../../../core/compare/recognise/recognise-return.ts'
import type { Trait } from '../../../core/compare/traits/registry.ts'
import { wholeText } from '../../../core/compare/whole/whole-text.ts'
import { masterOf } from '../asset/place.ts'
import { useClosing } from '../asset/use-closing.ts'
import ConflictList from './ConflictList.vue'
import { useReconcile } from './use-reconcile.ts'
import WholeNotice from './WholeNotice.vue'
import WorseList from './WorseList.vue'
import { useShownPlaces } from './use-shown-places.ts'
import DeviationLegend from './DeviationLegend.vue'
import PairParts from './PairParts.vue'
import ReportButtons from './ReportButtons.vue'
import { api, isConflict } from '../../api.ts'
import DropDialog from '../bring-in/DropDialog.vue'
import JobProgress from '../../kit/JobProgress.vue'
import LedgerTable from '../../kit/ledger/LedgerTable.vue'
import MessageList from '../../kit/MessageList.vue'
import SplitView from '../../kit/SplitView.vue'
import ModelViews from '../../kit/ModelViews.vue'
import { by, formatTime } from '../../kit/format.ts'
import { useAssets } from '../../stores/assets.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import { useJobs } from '../../stores/jobs.ts'
import { useNotices } from '../../stores/notices.ts'
import { quotedName } from '../../../core/base/messages/names-text.ts'

/** What came back from a trip: the ledger, the places, what to take, and the new version. */
const props = defineProps<{ asset: AssetDocument; tripId: string }>()
const router = useRouter()
const assets = useAssets()
const { traitLabel, storyOf, formatName, all: descriptors } = useDescriptors()
const jobs = useJobs()
const notices = useNotices()
const setClosed = useClosing()

const PANES = [
  { slot: 'ledger', size: 56, least: 30 },
  { slot: 'views', size: 44, least: 20 },
] as const
const detail = shallowRef<TripDetail | null>(null)
const take = ref<Trait[]>([])
const job = ref<string | null>(null)
const chosen = shallowRef<File[]>([])
const chooser = ref<HTMLInputElement>()

const { selected, shownCell, highlights, field, show, select, forget } = useShownPlaces(
  () => detail.value?.ledger ?? null,
  notices.failed,
)

const trip = computed(() => props.asset.trips.find((candidate) => candidate.id === props.tripId) ?? null)
const purpose = computed(() => trip.value?.destination.purpose ?? [])

async function load(): Promise<void> {
  try {
    detail.value = await api.trip(props.tripId)
    // what was shown was of what came back before
    forget()
    // what the hop was for, where it really changed; a model of another size is to be put right first
    take.value = detail.value.ledger?.whole
      ? []
      : purpose.value.filter((trait) =>
          detail.value?.ledger?.rows.some(
            ({ cells: { [trait]: cell } }) =>
              (cell?.state === 'changed' || cell?.state === 'gained') &&
              // UVs that lie otherwise as a whole are to be put right first as well
              !(trait === 'uvs' && detail.value?.ledger?.layout) &&
              !descriptors().notes[cell.note]?.toolsOwn,
          ),
        )
  } catch (error) {
    notices.failed(error)
  }
}
watch(
  () => [props.tripId, trip.value?.returnedAt],
  () => void load(),
  { immediate: true },
)

/** Parts in other polygons, of whose surface nothing comes along without them. */
const inOtherPolygons = computed(() => {
  if (take.value.includes('topology')) return ''
  const names = (detail.value?.ledger?.rows ?? [])
    .filter(({ cells }) => cells.points?.state === 'incomparable')
    .map(({ name }) => quotedName(name))
  return names.length > 2
    ? `${names.slice(0, 2).join(', ')} and ${names.length - 2} more`
    : names.join(' and ')
})
const restored = computed(() => {
  const ledger = detail.value?.ledger
  if (!ledger) return []
  return descriptors()
    .traits.filter((entry) => entry.scope === 'part')
    .map((entry) => entry.id)
    .filter(
      (trait) =>
        !take.value.includes(trait) &&
        ledger.rows.some(
          (row) =>
            row.cells[trait] &&
            !row.cells[trait].empty &&
            ['changed', 'guess', 'lost', 'gained'].includes(row.cells[trait].state),
        ),
    )
})

/** Parts that went along to be looked at only: nothing of them is taken. */
async function keptWhole(): Promise<Record<string, Trait[]>> {
  const { inspection } = await api.scene(detail.value!.sentSceneId)
  return Object.fromEntries(
    inspection.nodes.flatMap((node) =>
      node.mesh !== null && props.asset.partMarks[node.id]?.role === 'reference' ? [[node.id, []]] : [],
    ),
  )
}

const expected = computed(() =>
  (trip.value?.destination.changesOnReturn ?? []).filter((trait) => !purpose.value.includes(trait)),
)

/** What happened to the model as a whole, to be undone or undone already. */
const whole = computed(() => {
  const ledger = detail.value?.ledger
  const change = ledger?.whole ?? ledger?.undone
  return change ? { text: wholeText(change), undone: !ledger?.whole, by: change.by } : null
})

/** What was done to the whole layout of UVs, to be undone. */
const layout = computed(() => detail.value?.ledger?.layout ?? null)

/** What the ledger says, in words. */
const story = computed(() => (detail.value?.ledger ? storyOf(detail.value.ledger) : []))

/** Pairs that were made by hand; they hold as long as this return is looked at. */
const pairs = ref<HandPair[]>([])
watch(
  () => [props.tripId, trip.value?.returnedFileName],
  () => (pairs.value = []),
)
async function pair(lost: LedgerRowDocument, gained: LedgerRowDocument): Promise<void> {
  try {
    const { inspection } = await api.scene(detail.value!.sentSceneId)
    const part = inspection.nodes[lost.masterNode]!.id
    pairs.value = [...pairs.value, { part, returnedNode: gained.returnedNode, name: gained.name }]
  } catch (error) {
    return notices.failed(error)
  }
  const { undone, layoutUndone } = detail.value!.ledger!
  await readAgain(Boolean(undone ?? layoutUndone))
}

async function readAgain(undoWhole: boolean): Promise<void> {
  try {
    const { jobId } = await api.readAgain(
      props.tripId,
      { undoWhole, pairs: pairs.value },
      detail.value!.returnedSceneId,
    )
    job.value = jobId
    await jobs.finished(jobId)
    await assets.open(props.asset.id)
    await load()
  } catch (error) {
    notices.failed(error)
    if (isConflict(error)) await load().catch(notices.failed)
  } finally {
    job.value = null
  }
}

/** The master as it is now, where it is no longer the version that left. */
const newer = computed(() => {
  const newest = masterOf(props.asset)
  return trip.value && newest.id !== trip.value.versionId ? newest : null
})
const { conflicts, choices, allChosen, choose, worse, reconcile } = useReconcile({
  tripId: () => props.tripId,
  take: () => take.value,
  takeByPart: keptWhole,
  from: () => detail.value?.returnedSceneId ?? null,
  onto: () => newer.value?.id ?? null,
  job,
  async made(versionNumber, isHere) {
    await assets.open(props.asset.id)
    notices.done(`Version ${versionNumber} is the new master.`)
    if (isHere()) await router.push({ name: 'bench', params: { assetId: props.asset.id } })
  },
  async movedOn() {
    await assets.open(props.asset.id)
    await load()
  },
})
</script>

<template>
  <SplitView v-if="detail && detail.ledger" name="return" :panes="PANES">
    <template #ledger>
      <div class="left">
        <div class="heading">
          <h2>Trip {{ trip?.number }}: what came back</h2>
          <span class="soft"
            >{{ trip?.returnedFileName }}{{ by(trip?.returnedBy ?? null) }},
            {{ trip?.returnedAt ? formatTime(trip.returnedAt) : '' }}</span
          >
          <ReportButtons :asset="asset" :detail="detail" />
        </div>
        <p class="story" data-test="story">{{ story.join(' ') }}</p>
        <p v-if="expected.length" class="soft expected">
          This tool is known to change {{ expected.map(traitLabel).join(', ') }} as well.
        </p>
        <WholeNotice
          :whole="whole && !whole.undone ? whole : null"
          :layout="layout"
          :busy="job !== null"
          @undo="readAgain(true)"
        />
        <PairParts :rows="detail.ledger.rows" :busy="job !== null" @pair="pair" />
        <LedgerTable
          v-model:take="take"
          class="grow"
          :ledger="detail.ledger"
          :selected-node="selected"
          :shown-cell="shownCell"
          :purpose="purpose"
          @show="show"
          @select="select"
          @pair="pair"
        />
        <div v-if="detail.returnedMessages.length" class="messages">
          <MessageList :messages="detail.returnedMessages" />
        </div>
        <details v-if="detail.log.length && !conflicts.length && !worse.length" class="log">
          <summary>What the stand-in said ({{ detail.log.length }})</summary>
          <p v-for="(line, index) in detail.log" :key="index">{{ line }}</p>
        </details>
        <ConflictList
          v-if="conflicts.length && newer"
          :conflicts="conflicts"
          :version-number="newer.number"
          :choices="choices"
          @choose="choose"
        />
        <WorseList v-if="worse.length" :worse="worse" />
        <div class="choice">
          <p>
            <template v-if="!take.length"
              ><b>Nothing</b> of the return is chosen: version
              {{ newer?.number ?? trip?.versionNumber }} stays as it is.<template
                v-if="trip?.state === 'closed'"
              >
                The trip is closed.</template
              ></template
            >
            <template v-else
              ><b>New version</b> from version {{ newer?.number ?? trip?.versionNumber }} with
              <b class="takes">{{ take.map(traitLabel).join(', ') }}</b> from the return<template
                v-if="restored.length"
                >; {{ restored.map(traitLabel).join(', ') }} kept from the master</template
              >.<template v-if="newer">
                Version {{ trip?.versionNumber }} left; what has changed since then stays, and is brought
                together with what came back.</template
              ></template
            >
            <template v-if="inOtherPolygons">
              Of {{ inOtherPolygons }} the polygons are others: their surface comes along with topology
              only.</template
            >
          </p>
          <JobProgress v-if="job" :job-id="job" />
          <template v-else>
            <div>
              <el-button v-if="trip?.state === 'back' && !take.length" @click="setClosed(trip, true)"
                >Close the trip</el-button
              >
              <el-button v-if="trip?.state === 'closed'" @click="setClosed(trip, false)"
                >Open it again</el-button
              >
              <el-button type="primary" :disabled="!take.length || !allChosen" @click="reconcile">{{
                worse.length ? 'Keep it all the same' : 'Reconcile'
              }}</el-button>
            </div>
            <span v-if="trip?.state === 'settled'" class="soft"
              >Settled as version {{ trip.resultVersionNumber }}; reconciling again adds another.</span
            >
          </template>
        </div>
      </div>
    </template>
    <template #views>
      <ModelViews
        stacked
        :master-scene="detail.sentSceneId"
        :returned-scene="detail.returnedSceneId"
        :returned-factor="detail.ledger.whole?.factor ?? null"
        :selected-node="selected"
        :highlights="highlights"
        @select="select"
      >
        <template v-if="field" #foot>
          <DeviationLegend :kind="field.kind" :most="field.most" :unit="field.unit" :values="field.values" />
        </template>
      </ModelViews>
    </template>
  </SplitView>
  <div v-else-if="detail && trip" class="waiting">
    <svg width="220" height="90" viewBox="0 0 220 90" aria-hidden="true">
      <path d="M10 74H210" class="base" />
      <path d="M40 74C40 4 180 4 180 74" class="base" stroke-dasharray="4 5" />
      <path d="M172 62l8 12 9-11" class="base" />
    </svg>
    <h2>Nothing has come back from the {{ trip.destination.name.toLowerCase() }} yet</h2>
    <p>
      Save the model there as {{ formatName(trip.destination.format) }}, then drop the file anywhere on this
      page. It is read the way it was sent.
    </p>
    <p>
      <el-button type="primary" @click="chooser?.click()">Choose the file</el-button>
      <RouterLink v-if="trip.destination.standIn" :to="{ name: 'practice', query: { trip: trip.id } }"
        ><el-button>Let the stand-in take the trip</el-button></RouterLink
      >
    </p>
    <input
      ref="chooser"
      type="file"
      multiple
      hidden
      data-test="return-chooser"
      @change="chosen = [...((($event.target as HTMLInputElement).files ?? []) as FileList)]"
    />
    <DropDialog v-if="chosen.length" :files="chosen" :trip="trip" @done="chosen = []" />
  </div>
</template>

<style scoped>
.left {
  display: flex;
  flex-direction: column;
  height: 100%;
  min-height: 0;
}
.heading h2 {
  white-space: nowrap;
}
.heading > .soft {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.heading {
  display: flex;
  gap: 12px;
  align-items: baseline;
  padding: 12px 16px 0;
}
.grow {
  flex: 1;
  height: auto;
}
.messages {
  max-height: 92px;
  overflow: auto;
  padding: 0 16px;
  border-top: 1px solid var(--hairline);
}
.story {
  margin: 4px 16px 2px;
  max-width: 78ch;
  font-size: 15px;
  line-height: 1.45;
}
.expected {
  margin: 2px 16px 0;
}
.log {
  padding: 4px 16px;
  border-top: 1px solid var(--hairline);
}
.log p {
  margin: 2px 0;
}
.choice {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 6px 16px;
  align-items: center;
  padding: 12px 16px;
  border-top: 1px solid var(--hairline);
  background: var(--paper-raised);
}
.choice p {
  margin: 0;
}
.choice > span {
  grid-column: 1 / -1;
}
.takes {
  color: var(--accent);
}
.waiting {
  max-width: 520px;
  margin: 70px auto;
  text-align: center;
}
.base {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 1.6;
}
</style>
