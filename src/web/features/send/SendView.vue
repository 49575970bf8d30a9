<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import type { AssetDocument, ForecastResult, TripDetail } from '../../../contract/api.ts'
import { asDestination } from '../../../contract/destinations.ts'
import type { Destination } from '../../../core/trips/destinations/destination.ts'
import { defaultsOf, type OptionValues } from '../../../core/base/options/option.ts'
import type { SceneInspection } from '../../../core/inspect/inspect-scene.ts'
import { api, type SendRequest } from '../../api.ts'
import CheckResults from './CheckResults.vue'
import JobProgress from '../../kit/JobProgress.vue'
import LedgerTable from '../../kit/ledger/LedgerTable.vue'
import MessageList from '../../kit/MessageList.vue'
import SizeFacts from './SizeFacts.vue'
import { useForecast } from './use-forecast.ts'
import ManyField from '../../kit/form/ManyField.vue'
import OptionsForm from '../../kit/form/OptionsForm.vue'
import { by, formatBytes, formatTime } from '../../kit/format.ts'
import { useStillHere } from '../../kit/still-here.ts'
import { masterOf } from '../asset/place.ts'
import { useClosing } from '../asset/use-closing.ts'
import { useAssets } from '../../stores/assets.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import { useDestinations } from '../../stores/destinations.ts'
import { useJobs } from '../../stores/jobs.ts'
import { useLandings } from '../../stores/landings.ts'
import { useNotices } from '../../stores/notices.ts'
import { shownName } from '../../../core/base/messages/names-text.ts'

/** Choose where the master goes and what travels; see what the file will not carry; send it. Or: what was sent. */
const props = defineProps<{ asset: AssetDocument; tripId?: string }>()
const router = useRouter()
const assets = useAssets()
const descriptors = useDescriptors()
const destinations = useDestinations()
const jobs = useJobs()
const landings = useLandings()
const notices = useNotices()
const setClosed = useClosing()

const version = computed(() => masterOf(props.asset))
const destinationId = ref(destinations.first().id)
const inspection = shallowRef<SceneInspection | null>(null)
/** What the artist has set beside what the destination says. */
const own = ref<OptionValues>({})
/** Parts that leave, by the ids of their nodes; null: all. */
const selection = ref<readonly string[] | null>(null)
const withRecipe = ref(true)
const sendJob = ref<string | null>(null)
const selected = ref<number | null>(null)
const sent = shallowRef<TripDetail | null>(null)

const trip = computed(() => props.asset.trips.find((candidate) => candidate.id === props.tripId) ?? null)
const destination = computed<Destination>(() =>
  trip.value
    ? asDestination(trip.value.destination)
    : (destinations.find(destinationId.value) ?? destinations.first()),
)
const writeOptions = computed(() => descriptors.format(destination.value.format)?.writeOptions ?? [])
/** What the destination says, before the artist has set anything. */
const said = computed<OptionValues>(() => ({
  ...defaultsOf(writeOptions.value),
  ...(destination.value.writeOptions as OptionValues),
}))
const options = computed<OptionValues>(() => ({ ...said.value, ...own.value }))
const parts = computed(() =>
  (inspection.value?.nodes ?? []).flatMap((node) =>
    node.mesh === null ? [] : [{ id: node.id, name: node.name }],
  ),
)
/** What a unit or an axis that is left as it is comes to. */
const ownSpace = computed<OptionValues>(() => ({
  unitMeters: inspection.value?.unitMeters ?? null,
  upAxis: inspection.value?.upAxis ?? null,
}))
const ledger = computed(() => (props.tripId ? sent.value?.forecast : forecast.value?.forecast) ?? null)
const contents = computed(() => (props.tripId ? sent.value?.contents : forecast.value?.contents) ?? [])
const unclean = computed(() => forecast.value?.checks.some((entry) => entry.mustBeClean) ?? false)

const set = (change: OptionValues): void => {
  own.value = Object.fromEntries(
    Object.entries({ ...own.value, ...change }).filter(([id, value]) => value !== said.value[id]),
  )
}
const going = computed(() => selection.value ?? parts.value.map((part) => part.id))
// a file without parts is no file: the last one stays
const setParts = (ids: string[]): void => {
  if (ids.length) selection.value = ids.length === parts.value.length ? null : ids
}
watch(destinationId, () => {
  own.value = {}
  withRecipe.value = true
  // what was measured for another destination is not this one's
  forecast.value = null
  refusal.value = null
  leaveHome()
})

/** Parts that the artist has marked to stay home are left out from the start. */
function leaveHome(): void {
  const nodes = inspection.value?.nodes ?? []
  const home = (id: string): boolean => props.asset.partMarks[id]?.role === 'home'
  const leaving = nodes.flatMap((node) => (node.mesh !== null && !home(node.id) ? [node.id] : []))
  const some = leaving.length > 0 && nodes.some((node) => node.mesh !== null && home(node.id))
  selection.value = some ? leaving : null
}

const request = computed<SendRequest>(() => ({
  versionId: version.value.id,
  destination: destinationId.value,
  options: own.value,
  selection: selection.value,
  withRecipe: withRecipe.value,
}))
const {
  forecast,
  jobId: forecastJob,
  refusal,
} = props.tripId
  ? { forecast: shallowRef<ForecastResult | null>(null), jobId: ref<string | null>(null), refusal: ref(null) }
  : useForecast(() => props.asset.id, request)
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
}

const watchHere = useStillHere(() => props.asset.id)
async function sendOut(): Promise<void> {
  const isHere = watchHere()
  const assetId = props.asset.id
  try {
    const { jobId } = await api.send(props.asset.id, request.value)
    sendJob.value = jobId
    const job = await jobs.finished(jobId)
    await assets.open(assetId)
    download(String(job.result!.fileId))
    if (!isHere()) return
    await router.push({
      name: 'sent',
      params: { assetId, tripId: String(job.result!.tripId) },
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
        <h2>What travels, as {{ descriptors.format(destination.format)?.name }}</h2>
        <OptionsForm
          :key="destinationId"
          :options="writeOptions"
          :values="options"
          :own="ownSpace"
          folded
          @set="set"
        >
          <template #beside>
            <ManyField
              label="Parts"
              :values="going"
              :choices="parts.map((part) => ({ label: shownName(part.name), value: part.id }))"
              name="Parts that travel"
              short
              @choose="setParts"
            />
          </template>
        </OptionsForm>
      </template>
      <template v-else-if="trip">
        <h2>Trip {{ trip.number }}: sent to the {{ trip.destination.name.toLowerCase() }}</h2>
        <p class="soft">
          Version {{ trip.versionNumber }}{{ by(trip.sentBy) }}, {{ formatTime(trip.sentAt) }}
        </p>
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
          <p class="soft">Nothing is going to come back?</p>
          <el-button size="small" @click="setClosed(trip, true)">Close the trip</el-button>
        </template>
        <template v-else-if="!trip.returnedSceneId">
          <h2 class="next">Closed</h2>
          <p>Nothing came back from this trip, and nothing is waited for.</p>
          <el-button size="small" @click="setClosed(trip, false)">Open it again</el-button>
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
        <span v-if="!refusal" class="soft">measured: the file was written, read back, and compared</span>
      </div>
      <div class="table">
        <LedgerTable
          v-if="ledger"
          :ledger="ledger"
          :selected-node="selected"
          :destination="destination"
          @select="(node) => (selected = node)"
        />
        <div v-else-if="refusal && !forecastJob" class="refusal" role="alert" data-test="refusal">
          <p>{{ refusal.message }}</p>
          <p class="soft">{{ refusal.advice }}</p>
        </div>
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
            :scale="Number(options.scale ?? 1)"
            :tool-reads="destination.size.unit"
            @scale="(scale) => set({ scale })"
          />
          <h2>Checks</h2>
          <CheckResults :checks="forecast.checks" :asset-id="asset.id" />
        </template>
      </template>
      <h2 v-if="!refusal || contents.length">{{ contents.length > 1 ? 'The files' : 'The file' }}</h2>
      <p v-if="forecast && !tripId" class="folder soft">
        <!-- a long path breaks between its folders -->
        <template v-for="part in forecast.folder.split('/')" :key="part">{{ part }}/<wbr /></template>
      </p>
      <table class="contents">
        <tbody>
          <tr v-for="file in contents" :key="file.name">
            <td>{{ file.name }}</td>
            <td class="figure">{{ formatBytes(file.byteLength) }}</td>
          </tr>
        </tbody>
      </table>
      <template v-if="!tripId">
        <MessageList :messages="forecast?.messages ?? []" />
      </template>
      <p v-else-if="trip" class="soft file-name">
        <!-- long names break behind their words -->
        <template v-for="(word, at) in trip.sentFileName.split(/(?<=_)/)" :key="at"
          >{{ word }}<wbr /></template
        ><br />{{ formatBytes(trip.sentBytes) }}{{ trip.sentFileName.endsWith('.zip') ? ' packed' : '' }}
      </p>
      <p v-if="trip && landings.root" class="soft">
        It also lies in the hand-off folder {{ landings.root }}, under its destination in “out”; what is put
        into “back” beside it comes home by itself.
      </p>
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
.refusal {
  margin: 24px 16px;
  max-width: 46ch;
}
.refusal p:first-child {
  font-weight: 600;
  margin-bottom: 4px;
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
.file-name {
  overflow-wrap: anywhere;
}
</style>
