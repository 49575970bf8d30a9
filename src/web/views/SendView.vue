<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import {
  forecastResultSchema,
  type AssetDocument,
  type ForecastResult,
  type TripDetail,
} from '../../contract/api.ts'
import { asDestination } from '../../contract/destinations.ts'
import type { Destination } from '../../core/trips/destinations/destination.ts'
import { DESTINATIONS } from '../../core/trips/destinations/registry.ts'
import { FORMATS, type WriteOptions as Options } from '../../core/formats/registry.ts'
import type { SceneInspection } from '../../core/inspect/inspect-scene.ts'
import { api, type SendRequest } from '../api.ts'
import CheckResults from '../components/CheckResults.vue'
import JobProgress from '../components/JobProgress.vue'
import LedgerTable from '../components/LedgerTable.vue'
import MessageList from '../components/MessageList.vue'
import SizeFacts from '../components/SizeFacts.vue'
import WriteOptions from '../components/WriteOptions.vue'
import { formatBytes, formatTime } from '../composables/format.ts'
import { masterOf } from '../composables/place.ts'
import { useAssets } from '../stores/assets.ts'
import { useDestinations } from '../stores/destinations.ts'
import { useJobs } from '../stores/jobs.ts'
import { useNotices } from '../stores/notices.ts'

/** Choose where the master goes and what travels; see what the file will not carry; send it. Or: what was sent. */
const props = defineProps<{ asset: AssetDocument; tripId?: string }>()
const router = useRouter()
const assets = useAssets()
const destinations = useDestinations()
const jobs = useJobs()
const notices = useNotices()

const version = computed(() => masterOf(props.asset))
const destinationId = ref(DESTINATIONS[0]!.id)
const inspection = ref<SceneInspection | null>(null)
/** What the artist has set beside what the destination says. */
const own = ref<Options>({})
const withRecipe = ref(true)
const forecast = ref<ForecastResult | null>(null)
const forecastJob = ref<string | null>(null)
const sendJob = ref<string | null>(null)
const selected = ref<number | null>(null)
const sent = ref<TripDetail | null>(null)

const trip = computed(() => props.asset.trips.find((candidate) => candidate.id === props.tripId) ?? null)
const destination = computed<Destination>(() =>
  trip.value
    ? asDestination(trip.value.destination)
    : (destinations.find(destinationId.value) ?? DESTINATIONS[0]!),
)
const options = computed<Options>(() => ({
  ...FORMATS.find((format) => format.id === destination.value.format)!.writeDefaults,
  ...destination.value.writeOptions,
  ...own.value,
}))
const parts = computed(() =>
  (inspection.value?.nodes ?? []).flatMap((node, index) =>
    node.mesh === null ? [] : [{ node: index, name: node.name }],
  ),
)
const ledger = computed(() => (props.tripId ? sent.value?.forecast : forecast.value?.forecast) ?? null)
const contents = computed(() => (props.tripId ? sent.value?.contents : forecast.value?.contents) ?? [])
const unclean = computed(() => forecast.value?.checks.some((entry) => entry.mustBeClean) ?? false)

const set = (change: Options): void => {
  const next = { ...own.value, ...change }
  for (const key of Object.keys(next) as (keyof Options)[]) if (next[key] === undefined) delete next[key]
  own.value = next
}
watch(destinationId, () => {
  own.value = {}
  withRecipe.value = true
  leaveHome()
})

/** Parts that the artist has marked to stay home are left out from the start. */
function leaveHome(): void {
  const nodes = inspection.value?.nodes ?? []
  const home = (path: string): boolean => props.asset.partMarks[path]?.role === 'home'
  const going = nodes.flatMap((node, index) => (node.mesh !== null && !home(node.path) ? [index] : []))
  if (going.length && nodes.some((node) => node.mesh !== null && home(node.path))) set({ selection: going })
}

const request = computed<SendRequest>(() => ({
  versionId: version.value.id,
  destination: destinationId.value,
  options: own.value,
  withRecipe: withRecipe.value,
}))
let timer: ReturnType<typeof setTimeout> | undefined
let ticket = 0
async function runForecast(): Promise<void> {
  const mine = ++ticket
  try {
    if (forecastJob.value) await api.cancelJob(forecastJob.value).catch(notices.failed)
    const { jobId } = await api.forecast(props.asset.id, request.value)
    // asked anew, or gone elsewhere, while the job was made
    if (mine !== ticket) return void api.cancelJob(jobId).catch(notices.failed)
    forecastJob.value = jobId
    const job = await jobs.finished(jobId)
    if (mine !== ticket) return
    forecast.value = forecastResultSchema.parse(job.result)
  } catch (error) {
    if (mine === ticket) notices.failed(error)
  } finally {
    if (mine === ticket) forecastJob.value = null
  }
}
if (props.tripId)
  api
    .trip(props.tripId)
    .then((detail) => (sent.value = detail))
    .catch(notices.failed)
else {
  destinations.refresh().catch(notices.failed)
  watch(
    [() => version.value.sceneId],
    async ([sceneId]) => {
      try {
        inspection.value = (await api.scene(sceneId)).inspection
        leaveHome()
      } catch (error) {
        notices.failed(error)
      }
    },
    { immediate: true },
  )
  watch(
    request,
    () => {
      clearTimeout(timer)
      timer = setTimeout(() => void runForecast(), forecast.value ? 350 : 0)
    },
    { immediate: true, deep: true },
  )
}
onBeforeUnmount(() => {
  clearTimeout(timer)
  ticket++
})

async function sendOut(): Promise<void> {
  try {
    const { jobId } = await api.send(props.asset.id, request.value)
    sendJob.value = jobId
    const job = await jobs.finished(jobId)
    await assets.refreshOne(props.asset.id)
    download(String(job.result!.fileId))
    await router.push({
      name: 'sent',
      params: { assetId: props.asset.id, tripId: String(job.result!.tripId) },
    })
  } catch (error) {
    notices.failed(error)
  } finally {
    sendJob.value = null
  }
}
function download(fileId: string): void {
  const link = document.createElement('a')
  link.href = api.fileAddress(fileId)
  link.download = ''
  link.click()
}
</script>

<template>
  <div class="split send">
    <div class="panel">
      <template v-if="!tripId">
        <h2>Send version {{ version.number }} to</h2>
        <el-radio-group v-model="destinationId" class="destinations">
          <el-radio v-for="entry in destinations.all" :key="entry.id" :value="entry.id">{{
            entry.name
          }}</el-radio>
        </el-radio-group>
        <p class="soft about">{{ destination.description }}</p>
        <el-checkbox v-if="destination.recipe" v-model="withRecipe" size="small"
          >Run “{{ destination.recipe.name }}” on what leaves ({{ destination.recipe.steps.length }}
          {{ destination.recipe.steps.length === 1 ? 'step' : 'steps' }})</el-checkbox
        >
        <h2>What travels, as {{ destination.format.toUpperCase() }}</h2>
        <WriteOptions
          :key="destinationId"
          :options="options"
          :format="destination.format"
          :unit-meters="inspection?.unitMeters ?? null"
          :up-axis="inspection?.upAxis ?? 'y'"
          :parts="parts"
          folded
          @set="set"
        />
      </template>
      <template v-else-if="trip">
        <h2>Trip {{ trip.number }}: sent to the {{ trip.destination.name.toLowerCase() }}</h2>
        <p class="soft">Version {{ trip.versionNumber }}, {{ formatTime(trip.sentAt) }}</p>
        <p>{{ trip.destination.description }}</p>
        <a :href="api.fileAddress(trip.sentFileId)" download
          ><el-button type="primary">Download again</el-button></a
        >
        <template v-if="trip.state === 'out'">
          <h2 class="next">When it comes home</h2>
          <p>
            Drop the file that the tool saved anywhere on this page. Kelbo finds which part is which, and says
            what changed.
          </p>
          <p v-if="trip.destination.standIn" class="soft">
            No tool at hand? The
            <RouterLink :to="{ name: 'practice', query: { trip: trip.id } }">stand-in</RouterLink> takes the
            trip for practice.
          </p>
        </template>
        <p v-else>
          <RouterLink :to="{ name: 'return', params: { assetId: asset.id, tripId: trip.id } }"
            >It has come back: look at the return</RouterLink
          >
        </p>
      </template>
    </div>
    <div class="middle">
      <div class="heading">
        <h2>{{ tripId ? 'What the file carried' : 'What the file will carry' }}</h2>
        <span class="soft">measured: the file was written, read back, and compared</span>
      </div>
      <div class="table">
        <LedgerTable
          v-if="ledger"
          :ledger="ledger"
          :selected-node="selected"
          :destination="destination"
          @select="(node) => (selected = node)"
        />
        <div v-if="forecastJob" class="measuring" :class="{ alone: !ledger }">
          <JobProgress :job-id="forecastJob" />
        </div>
      </div>
    </div>
    <div class="panel right">
      <template v-if="!tripId">
        <div class="act">
          <JobProgress v-if="sendJob" :job-id="sendJob" />
          <el-button
            v-else
            type="primary"
            size="large"
            :disabled="!forecast || forecastJob !== null"
            @click="sendOut"
            >{{ unclean ? 'Send it as it is' : 'Send and download' }}</el-button
          >
          <p class="soft">The trip is recorded with what was sent; the master stays as it is.</p>
        </div>
        <template v-if="forecast">
          <h2>Size</h2>
          <SizeFacts
            :size="forecast.size"
            :scale="options.scale ?? 1"
            :tool-reads="destination.size.unit"
            @scale="(scale) => set({ scale })"
          />
          <h2>Checks</h2>
          <CheckResults :checks="forecast.checks" :asset-id="asset.id" />
        </template>
      </template>
      <h2>{{ contents.length > 1 ? 'The files' : 'The file' }}</h2>
      <p v-if="forecast && !tripId" class="folder soft">{{ forecast.folder }}/</p>
      <table class="contents">
        <tbody>
          <tr v-for="file in contents" :key="file.name">
            <td>{{ file.name }}</td>
            <td class="figure">{{ formatBytes(file.byteLength) }}</td>
          </tr>
        </tbody>
      </table>
      <template v-if="!tripId">
        <p v-if="forecast" class="soft">{{ formatBytes(forecast.packedBytes) }} as a ZIP</p>
        <MessageList :messages="forecast?.messages ?? []" />
      </template>
      <p v-else-if="trip" class="soft">{{ trip.sentFileName }}, {{ formatBytes(trip.sentBytes) }} in all</p>
    </div>
  </div>
</template>

<style scoped>
.send {
  grid-template-columns: 270px minmax(0, 1fr) 290px;
}
h2 {
  margin-bottom: 6px;
}
.next,
.about ~ h2 {
  margin-top: 18px;
}
.destinations {
  display: grid;
  justify-items: start;
}
.destinations :deep(.el-radio) {
  height: 26px;
}
.middle {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.heading {
  padding: 14px 16px 0;
  display: flex;
  gap: 12px;
  align-items: baseline;
}
.table {
  position: relative;
  flex: 1;
  min-height: 0;
}
.measuring {
  position: absolute;
  left: 16px;
  right: 16px;
  top: 8px;
  background: var(--paper-raised);
  border: 1px solid var(--hairline);
  padding: 8px 14px;
  border-radius: 3px;
  z-index: 2;
}
.measuring.alone {
  top: 40%;
}
.right {
  border-right: 0;
  border-left: 1px solid var(--hairline);
}
.contents td {
  padding: 1px 0;
  border-bottom: 1px solid var(--hairline);
  overflow-wrap: anywhere;
}
.contents .figure {
  white-space: nowrap;
  padding-left: 8px;
}
.act {
  margin-bottom: 14px;
}
.act p {
  margin: 6px 0 0;
}
.act :deep(.el-button) {
  width: 100%;
}
.right h2:not(:first-child) {
  margin-top: 14px;
}
.folder {
  margin: 0 0 2px;
  overflow-wrap: anywhere;
}
.about {
  margin: 6px 0;
}
</style>
