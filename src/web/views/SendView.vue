<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import {
  forecastResultSchema,
  type AssetDocument,
  type ForecastResult,
  type TripDetail,
} from '../../contract/api.ts'
import { DESTINATIONS, destinationOf } from '../../core/destinations/destination.ts'
import { OBJ_WRITE_DEFAULTS, type ObjWriteOptions } from '../../core/formats/obj/options.ts'
import type { SceneInspection } from '../../core/inspect/inspect-scene.ts'
import { api } from '../api.ts'
import JobProgress from '../components/JobProgress.vue'
import LedgerTable from '../components/LedgerTable.vue'
import MessageList from '../components/MessageList.vue'
import WriteOptions from '../components/WriteOptions.vue'
import { formatBytes, formatMeters, formatTime } from '../composables/format.ts'
import { masterOf } from '../composables/place.ts'
import { useAssets } from '../stores/assets.ts'
import { useJobs } from '../stores/jobs.ts'
import { useNotices } from '../stores/notices.ts'

/** Choose where the master goes and what travels; see what the file will not carry; send it. Or: what was sent. */
const props = defineProps<{ asset: AssetDocument; tripId?: string }>()
const router = useRouter()
const assets = useAssets()
const jobs = useJobs()
const notices = useNotices()

const version = computed(() => masterOf(props.asset))
const destinationId = ref(DESTINATIONS[0]!.id)
const destination = computed(() => destinationOf(destinationId.value)!)
const options = ref<ObjWriteOptions>({ ...OBJ_WRITE_DEFAULTS, ...destination.value.writeOptions })
const inspection = ref<SceneInspection | null>(null)
const forecast = ref<ForecastResult | null>(null)
const forecastJob = ref<string | null>(null)
const sendJob = ref<string | null>(null)
const selected = ref<number | null>(null)
const sent = ref<TripDetail | null>(null)

const trip = computed(() => props.asset.trips.find((candidate) => candidate.id === props.tripId) ?? null)
const parts = computed(() =>
  (inspection.value?.nodes ?? []).flatMap((node, index) =>
    node.mesh === null ? [] : [{ node: index, name: node.name }],
  ),
)
const ledger = computed(() => (props.tripId ? sent.value?.forecast : forecast.value?.forecast) ?? null)
const contents = computed(() => (props.tripId ? sent.value?.contents : forecast.value?.contents) ?? [])

/** What the tool will see as the model's height, since programs read the numbers. */
const height = computed(() => {
  const shown = inspection.value
  if (!shown?.bounds || shown.unitMeters === null) return null
  const up = shown.upAxis.endsWith('z') ? 2 : 1
  const meters = (shown.bounds.max[up]! - shown.bounds.min[up]!) * shown.unitMeters
  const unit = options.value.unitMeters ?? shown.unitMeters
  return { meters, numbers: meters / unit }
})

watch(destinationId, () => {
  options.value = { ...OBJ_WRITE_DEFAULTS, ...destination.value.writeOptions }
  leaveHome()
})

/** Parts that the artist has marked to stay home are left out from the start. */
function leaveHome(): void {
  const nodes = inspection.value?.nodes ?? []
  const home = (path: string): boolean => props.asset.partMarks[path]?.role === 'home'
  const going = nodes.flatMap((node, index) => (node.mesh !== null && !home(node.path) ? [index] : []))
  if (going.length && nodes.some((node) => node.mesh !== null && home(node.path)))
    options.value = { ...options.value, selection: going }
}

let timer: ReturnType<typeof setTimeout> | undefined
let ticket = 0
async function runForecast(): Promise<void> {
  const mine = ++ticket
  try {
    if (forecastJob.value) await api.cancelJob(forecastJob.value).catch(() => undefined)
    const { jobId } = await api.forecast(props.asset.id, version.value.id, destinationId.value, options.value)
    if (mine !== ticket) return
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
    options,
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
    const { jobId } = await api.send(props.asset.id, version.value.id, destinationId.value, options.value)
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
          <el-radio v-for="entry in DESTINATIONS" :key="entry.id" :value="entry.id">{{
            entry.name
          }}</el-radio>
        </el-radio-group>
        <p class="soft">{{ destination.description }}</p>
        <h2>What travels</h2>
        <WriteOptions
          v-model="options"
          :unit-meters="inspection?.unitMeters ?? null"
          :up-axis="inspection?.upAxis ?? 'y'"
          :parts="parts"
        />
      </template>
      <template v-else-if="trip">
        <h2>Trip {{ trip.number }}: sent to the {{ trip.destinationName.toLowerCase() }}</h2>
        <p class="soft">Version {{ trip.versionNumber }}, {{ formatTime(trip.sentAt) }}</p>
        <p>{{ destinationOf(trip.destination)?.description }}</p>
        <a :href="api.fileAddress(trip.sentFileId)" download
          ><el-button type="primary">Download again</el-button></a
        >
        <template v-if="trip.state === 'out'">
          <h2 class="next">When it comes home</h2>
          <p>
            Drop the file that the tool saved anywhere on this page. Kelbo finds which part is which, and says
            what changed.
          </p>
          <p v-if="destinationOf(trip.destination)?.standIn" class="soft">
            No tool at hand? The <RouterLink to="/practice">stand-in</RouterLink> takes the trip for practice.
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
          forecast
          @select="(node) => (selected = node)"
        />
        <div v-if="forecastJob" class="measuring" :class="{ alone: !ledger }">
          <JobProgress :job-id="forecastJob" />
        </div>
      </div>
    </div>
    <div class="panel right">
      <h2>The file</h2>
      <table class="contents">
        <tbody>
          <tr v-for="file in contents" :key="file.name">
            <td>{{ file.name }}</td>
            <td class="figure">{{ formatBytes(file.byteLength) }}</td>
          </tr>
        </tbody>
      </table>
      <template v-if="!tripId">
        <p v-if="height" class="height">
          {{ formatMeters(height.meters) }} tall
          <span class="soft"
            >the file says {{ Number(height.numbers.toPrecision(4)) }}; a tool that takes its unit for
            something else will show another size</span
          >
        </p>
        <MessageList :messages="forecast?.messages ?? []" />
        <div class="act">
          <JobProgress v-if="sendJob" :job-id="sendJob" />
          <el-button
            v-else
            type="primary"
            size="large"
            :disabled="!forecast || forecastJob !== null"
            @click="sendOut"
            >Send and download</el-button
          >
          <p class="soft">The trip is recorded with exactly what was sent. The master stays as it is.</p>
        </div>
      </template>
      <p v-else-if="trip" class="soft">{{ trip.sentFileName }}, {{ formatBytes(trip.sentBytes) }} in all</p>
    </div>
  </div>
</template>

<style scoped>
.send {
  grid-template-columns: 286px minmax(0, 1fr) 262px;
}
h2 {
  margin-bottom: 6px;
}
.next,
.destinations + p + h2 {
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
  padding: 3px 0;
  border-bottom: 1px solid var(--hairline);
  overflow-wrap: anywhere;
}
.contents .figure {
  white-space: nowrap;
  padding-left: 8px;
}
.height {
  font-size: 15px;
  font-weight: 500;
}
.height span {
  display: block;
  font-size: 12px;
  font-weight: 400;
}
.act {
  margin-top: 18px;
}
</style>
