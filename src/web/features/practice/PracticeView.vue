<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'
import { suggestedOf, type OptionValues } from '../../../core/base/options/option.ts'
import { api, isConflict } from '../../api.ts'
import JobProgress from '../../kit/JobProgress.vue'
import OptionsForm from '../../kit/form/OptionsForm.vue'
import { formatTime } from '../../kit/format.ts'
import { useAssets } from '../../stores/assets.ts'
import { useDescriptors } from '../../stores/descriptors.ts'
import { useJobs } from '../../stores/jobs.ts'
import { useNotices } from '../../stores/notices.ts'

/** The stand-ins: small simulated tools to practise trips with. */
const route = useRoute()
const router = useRouter()
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
  assets.assets.flatMap((asset) =>
    asset.trips
      .filter((trip) => standIn.value.reads.includes(trip.destination.format))
      // those meant for it, and among them those that wait, come first
      .sort(
        (a, b) =>
          Number(b.destination.standIn === standInId.value) -
            Number(a.destination.standIn === standInId.value) ||
          Number(b.state === 'out') - Number(a.state === 'out'),
      )
      .map((trip) => ({ asset, trip })),
  ),
)
const chosen = ref<string | null>(typeof route.query.trip === 'string' ? route.query.trip : null)
// who comes from a trip gets the stand-in that it is meant for
watch(
  () => assets.assets.flatMap((asset) => asset.trips).find((trip) => trip.id === route.query.trip),
  (trip) => {
    if (trip?.destination.standIn && descriptors.standIn(trip.destination.standIn))
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

async function practise(): Promise<void> {
  const entry = trips.value.find(({ trip }) => trip.id === tripId.value)
  if (!entry) return
  try {
    job.value = (
      await api.practise(entry.trip.id, standIn.value.id, options.value, entry.trip.returnedSceneId)
    ).jobId
    const done = await jobs.finished(job.value)
    job.value = String(done.result!.nextJob)
    await jobs.finished(job.value)
    await assets.open(entry.asset.id)
    await router.push({ name: 'return', params: { assetId: entry.asset.id, tripId: entry.trip.id } })
  } catch (error) {
    notices.failed(error)
    if (isConflict(error)) await assets.refresh().catch(notices.failed)
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
      <el-radio-group v-model="standInId" class="who" aria-label="Stand-in">
        <el-radio-button v-for="entry in standIns" :key="entry.id" :value="entry.id">{{
          entry.name
        }}</el-radio-button>
      </el-radio-group>
      <p>{{ standIn.description }}</p>
      <OptionsForm
        class="settings"
        :options="standIn.parameters"
        :values="options"
        plain
        @set="(change: OptionValues) => (options = { ...options, ...change })"
      />
    </div>
    <div class="trips">
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
        {{ standIn.reads.map((format) => format.toUpperCase()).join(' and ') }}. Open an asset under
        <RouterLink to="/">Assets</RouterLink> and send it somewhere first.
      </p>
      <JobProgress v-if="job" :job-id="job" />
      <el-button v-else type="primary" :disabled="!tripId" @click="practise">{{ standIn.action }}</el-button>
    </div>
  </section>
</template>

<style scoped>
section {
  padding: 26px 32px;
  height: 100%;
  overflow: auto;
  display: grid;
  grid-template-columns: minmax(0, 560px) minmax(0, 1fr);
  gap: 56px;
}
h2 {
  margin: 22px 0 4px;
}
.settings {
  --label-width: 220px;
  font-size: 14px;
  margin-top: 12px;
}
.settings :deep(.form-line) {
  min-height: 34px;
  color: var(--ink);
}
.who {
  margin: 6px 0 10px;
}
.trips h2 {
  margin: 52px 0 8px;
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
  margin-bottom: 16px;
}
</style>
