<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { SCULPTOR_DEFAULTS, type SculptorOptions } from '../../core/standins/sculptor.ts'
import { destinationOf } from '../../core/destinations/destination.ts'
import { api } from '../api.ts'
import JobProgress from '../components/JobProgress.vue'
import { formatTime } from '../composables/format.ts'
import { useAssets } from '../stores/assets.ts'
import { useJobs } from '../stores/jobs.ts'
import { useNotices } from '../stores/notices.ts'

/** The stand-ins: small simulated tools to practise trips with. */
const router = useRouter()
const assets = useAssets()
const jobs = useJobs()
const notices = useNotices()
onMounted(() => void assets.refresh().catch(notices.failed))

const options = ref<SculptorOptions>({ ...SCULPTOR_DEFAULTS })
const trips = computed(() =>
  assets.assets.flatMap((asset) =>
    asset.trips
      .filter((trip) => destinationOf(trip.destination)?.standIn === 'sculptor')
      .map((trip) => ({ asset, trip })),
  ),
)
const chosen = ref<string | null>(null)
const tripId = computed(
  () => chosen.value ?? trips.value.find(({ trip }) => trip.state === 'out')?.trip.id ?? null,
)
const job = ref<string | null>(null)

async function practise(): Promise<void> {
  const entry = trips.value.find(({ trip }) => trip.id === tripId.value)
  if (!entry) return
  try {
    job.value = (await api.practise(entry.trip.id, options.value)).jobId
    const sculpted = await jobs.finished(job.value)
    job.value = String(sculpted.result!.nextJob)
    await jobs.finished(job.value)
    await assets.refreshOne(entry.asset.id)
    await router.push({ name: 'return', params: { assetId: entry.asset.id, tripId: entry.trip.id } })
  } catch (error) {
    notices.failed(error)
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
      <h2>The sculptor</h2>
      <p>
        It reads the OBJ as a sculpting tool would: the first UV set only, no smoothing groups, no creases. It
        moves the surface with a carve that follows from position alone, gives vertices and polygons new
        numbers, adds groups of its own, and writes an OBJ with six digits.
      </p>
      <div class="settings">
        <label class="field">
          How far it moves points
          <el-slider
            v-model="options.strength"
            :min="0"
            :max="0.06"
            :step="0.001"
            :format-tooltip="(value: number) => `${(value * 100).toFixed(1)} % of a part’s diagonal`"
            aria-label="How far it moves points"
          />
          <span class="figure">{{ (options.strength * 100).toFixed(1) }} %</span>
        </label>
        <el-checkbox v-model="options.renumber">Gives vertices and polygons new numbers</el-checkbox>
        <el-checkbox v-model="options.addGroups">Adds groups of its own</el-checkbox>
        <el-checkbox v-model="options.dropMaterials">Forgets the materials</el-checkbox>
      </div>
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
            >version {{ trip.versionNumber }}, sent {{ formatTime(trip.sentAt)
            }}{{ trip.state === 'out' ? ', waiting' : ', has come back (this replaces it)' }}</span
          >
        </el-radio>
      </el-radio-group>
      <p v-else>
        No trip is out. Open an asset under <RouterLink to="/">Assets</RouterLink> and send it to the
        sculpting tool first.
      </p>
      <JobProgress v-if="job" :job-id="job" />
      <el-button v-else type="primary" :disabled="!tripId" @click="practise"
        >Sculpt and bring it back</el-button
      >
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
.trips h2 {
  margin: 52px 0 8px;
}
.settings {
  display: grid;
  justify-items: start;
  margin-top: 12px;
}
.field {
  display: grid;
  grid-template-columns: 170px 240px 60px;
  gap: 16px;
  align-items: center;
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
