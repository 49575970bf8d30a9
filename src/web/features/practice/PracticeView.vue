<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { suggestedOf, type OptionValues } from '../../../core/base/options/option.ts'
import { api, isConflict } from '../../api.ts'
import type { TripDetail } from '../../../contract/api.ts'
import JobProgress from '../../kit/JobProgress.vue'
import ModelViews from '../../kit/ModelViews.vue'
import RandomTrips from './RandomTrips.vue'
import OptionsForm from '../../kit/form/OptionsForm.vue'
import { formatTime } from '../../kit/format.ts'
import { useAssets } from '../../stores/assets.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import { useJobs } from '../../stores/jobs.ts'
import { useNotices } from '../../stores/notices.ts'

/** The stand-ins: small simulated tools to practise trips with. */
const route = useRoute()
const assets = useAssets()
const descriptors = useDescriptors()
const jobs = useJobs()
const notices = useNotices()
onMounted(() => void assets.refresh().catch(notices.failed))

const standIns = descriptors.all().standIns
const standInId = ref(standIns[0]!.id)
const standIn = computed(() => descriptors.standIn(standInId.value)!)
const options = ref<OptionValues>({})
watch(standIn, (now) => (options.value = suggestedOf(now.parameters)), { immediate: true })

const trips = computed(() =>
  assets.assets
    .flatMap((asset) =>
      asset.trips
        .filter((trip) => standIn.value.reads.includes(trip.destination.format))
        .map((trip) => ({ asset, trip })),
    )
    // the one that someone comes from, then those meant for it, and among them those that wait
    .sort(
      ({ trip: a }, { trip: b }) =>
        Number(b.id === route.query.trip) - Number(a.id === route.query.trip) ||
        Number(b.destination.standIn === standInId.value) -
          Number(a.destination.standIn === standInId.value) ||
        Number(b.state === 'out') - Number(a.state === 'out'),
    ),
)
const chosen = ref<string | null>(typeof route.query.trip === 'string' ? route.query.trip : null)
// who comes from a trip gets the stand-in that it is meant for
watch(
  () => assets.assets.flatMap((asset) => asset.trips).find((trip) => trip.id === route.query.trip),
  (trip, before) => {
    // once: whoever chooses another one meanwhile keeps it
    if (!before && trip?.destination.standIn && descriptors.standIn(trip.destination.standIn))
      standInId.value = trip.destination.standIn
  },
  { immediate: true },
)
const tripId = computed(() => {
  const listed = trips.value.find(({ trip }) => trip.id === chosen.value)
  if (listed) return listed.trip.id
  // the list may be older than the trip that someone comes from: no other is taken in its place
  if (chosen.value !== null) return null
  return trips.value.find(({ trip }) => trip.state === 'out')?.trip.id ?? null
})
const job = ref<string | null>(null)

/** The chosen trip's model, as it left and as it came back. */
const detail = shallowRef<TripDetail | null>(null)
const selected = ref<number | null>(null)
async function show(): Promise<void> {
  const id = tripId.value
  const found = id ? await api.trip(id) : null
  if (id === tripId.value) detail.value = found
}
watch(
  tripId,
  () => {
    detail.value = null
    selected.value = null
    show().catch(notices.failed)
  },
  { immediate: true },
)
/** What the ledger says of it, in words. */
const found = computed(() => (detail.value?.ledger ? descriptors.storyOf(detail.value.ledger) : []))
const assetName = computed(
  () => trips.value.find(({ trip }) => trip.id === detail.value?.trip.id)?.asset.name ?? '',
)

async function practise(): Promise<void> {
  const entry = trips.value.find(({ trip }) => trip.id === tripId.value)
  if (!entry) return
  // it stays before the artist, also where it was shown of its own accord as the one that waits
  chosen.value = entry.trip.id
  try {
    job.value = (
      await api.practise(entry.trip.id, standIn.value.id, options.value, entry.trip.returnedSceneId)
    ).jobId
    const done = await jobs.finished(job.value)
    job.value = String(done.result!.nextJob)
    await jobs.finished(job.value)
    await Promise.all([assets.refresh(), assets.open(entry.asset.id), show()])
  } catch (error) {
    notices.failed(error)
    if (isConflict(error)) await Promise.all([assets.refresh(), show()]).catch(notices.failed)
  } finally {
    job.value = null
  }
}
</script>

<template>
  <section>
    <div class="about">
      <h1>Practice</h1>
      <p class="soft">
        Stand-ins are small simulated tools. They take a trip’s file, do what such tools do, and bring it
        back.
      </p>
      <el-select v-model="standInId" class="who" aria-label="Stand-in">
        <el-option v-for="entry in standIns" :key="entry.id" :value="entry.id" :label="entry.name" />
      </el-select>
      <p>{{ standIn.description }}</p>
      <OptionsForm
        class="settings"
        :options="standIn.parameters"
        :values="options"
        plain
        @set="(change: OptionValues) => (options = { ...options, ...change })"
      />
      <h2>Trips it can take</h2>
      <el-radio-group
        v-if="trips.length"
        :model-value="tripId ?? undefined"
        class="choices"
        @update:model-value="(id: unknown) => (chosen = String(id))"
      >
        <el-radio v-for="{ asset, trip } in trips" :key="trip.id" :value="trip.id">
          {{ asset.name }}, trip {{ trip.number }}
          <span class="soft"
            >{{ trip.destination.name }}, version {{ trip.versionNumber }}, sent {{ formatTime(trip.sentAt)
            }}{{ trip.state === 'out' ? ', waiting' : ', has come back (this replaces it)' }}</span
          >
        </el-radio>
      </el-radio-group>
      <p v-else>
        No trip is out that {{ standIn.name.toLowerCase() }} could take: it reads
        {{ standIn.reads.map((format) => descriptors.formatName(format)).join(' and ') }}. Open an asset under
        <RouterLink to="/">Assets</RouterLink> and send it somewhere first.
      </p>
      <div class="act">
        <JobProgress v-if="job" :job-id="job" />
        <el-button v-else type="primary" :disabled="!tripId" @click="practise">{{
          standIn.action
        }}</el-button>
      </div>
      <RandomTrips v-if="tripId" :key="tripId" :trip-id="tripId" />
    </div>
    <div class="model">
      <template v-if="detail">
        <div class="views">
          <ModelViews
            :master-scene="detail.sentSceneId"
            :returned-scene="detail.returnedSceneId"
            :selected-node="selected"
            :sides="['as it left', 'as it came back']"
            @select="(node) => (selected = node)"
          />
        </div>
        <div class="told">
          <div>
            <h2>{{ assetName }}, trip {{ detail.trip.number }}</h2>
            <p v-if="!detail.returnedSceneId" class="soft">
              Version {{ detail.trip.versionNumber }} as it left for the
              {{ detail.trip.destination.name.toLowerCase() }}. What {{ standIn.name.toLowerCase() }} makes of
              it shows up here beside it.
            </p>
            <div v-else class="sides">
              <div>
                <h3>What was done</h3>
                <ul aria-label="What was done">
                  <li v-for="line in detail.log" :key="line">{{ line }}</li>
                  <li v-if="detail.log.length === 0">Nothing was noted when it came back.</li>
                </ul>
              </div>
              <div>
                <h3>What Kelbo found</h3>
                <ul aria-label="What Kelbo found">
                  <li v-for="line in found" :key="line">{{ line }}</li>
                </ul>
              </div>
            </div>
          </div>
          <RouterLink
            v-if="detail.returnedSceneId"
            :to="{ name: 'return', params: { assetId: detail.trip.assetId, tripId: detail.trip.id } }"
            ><el-button type="primary">See what came back</el-button></RouterLink
          >
        </div>
      </template>
      <p v-else class="none soft">
        The model of the chosen trip shows up here, as it left and as it came back.
      </p>
    </div>
  </section>
</template>

<style scoped>
section {
  height: 100%;
  display: grid;
  grid-template-columns: 400px minmax(0, 1fr);
}
.about {
  padding: 26px 28px 20px 32px;
  overflow: auto;
  border-right: 1px solid var(--hairline);
}
h2 {
  margin: 22px 0 4px;
}
.settings {
  --label-width: 190px;
  margin-top: 12px;
}
.settings :deep(.form-line) {
  min-height: 34px;
  color: var(--ink);
}
.settings :deep(.ticks) {
  grid-template-columns: minmax(0, 1fr);
}
.who {
  width: 100%;
  margin: 2px 0 8px;
}
.choices :deep(.el-radio) {
  height: auto;
  padding: 6px 0;
  white-space: normal;
  font-weight: 500;
}
.choices .soft {
  display: block;
  font-weight: 400;
}
.choices {
  display: grid;
  justify-items: start;
  align-content: start;
  max-height: 190px;
  overflow: auto;
}
.act {
  position: sticky;
  bottom: -20px;
  padding: 12px 0 20px;
  background: var(--paper);
  z-index: 1;
}
.model {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  min-height: 0;
}
.views {
  min-height: 0;
}
.told {
  display: flex;
  justify-content: space-between;
  align-items: start;
  gap: 24px;
  padding: 12px 20px 16px;
  border-top: 1px solid var(--hairline);
}
.told h2 {
  margin: 0 0 2px;
}
.told p,
.told ul {
  margin: 0;
}
.told > div {
  flex: 1;
  min-width: 0;
}
.sides {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 28px;
  margin-top: 8px;
}
h3 {
  font-size: 12px;
  color: var(--ink-soft);
  margin: 0 0 3px;
}
.told ul {
  padding: 0 0 0 14px;
  max-height: 150px;
  overflow: auto;
}
.told li + li {
  margin-top: 2px;
}
.none {
  align-self: center;
  text-align: center;
  padding: 0 20%;
}
</style>
