<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../../api.ts'
import { formatBytes, formatTime } from '../../kit/format.ts'
import { useAssets } from '../../stores/assets.ts'
import { useJobs } from '../../stores/jobs.ts'
import { useLandings } from '../../stores/landings.ts'
import { useNotices } from '../../stores/notices.ts'
import type { LandingDocument, OpenTripDocument } from '../../../contract/api.ts'

/** Files in the hand-off folder that Kelbo can't place by itself: somebody says which trip they are of. */
const landings = useLandings()
const assets = useAssets()
const jobs = useJobs()
const notices = useNotices()
const router = useRouter()
/** By landing, the trip that was chosen. */
const chosen = ref<Record<string, string>>({})
const busy = ref(false)

const nameOf = (trip: OpenTripDocument): string =>
  `${trip.assetName}, trip ${trip.number} to ${trip.destinationName}${trip.returnedSceneId ? ' (something is back)' : ''}`
const rows = computed(() =>
  landings.landings.map((landing) => {
    const likely = landing.likely.flatMap((id) => landings.trips.find((trip) => trip.id === id) ?? [])
    return {
      landing,
      likely,
      others: landings.trips.filter((trip) => !likely.includes(trip)),
      bytes: landing.files.reduce((sum, { byteLength }) => sum + byteLength, 0),
    }
  }),
)

async function act(work: () => Promise<void>): Promise<void> {
  busy.value = true
  try {
    await work()
  } catch (error) {
    notices.failed(error)
  } finally {
    busy.value = false
    await landings.refresh().catch(notices.failed)
  }
}
const take = ({ id }: LandingDocument): Promise<void> =>
  act(async () => {
    const trip = landings.trips.find((candidate) => candidate.id === chosen.value[id])!
    const { jobId } = await api.takeLanding(id, trip.id, trip.returnedSceneId)
    await jobs.finished(jobId)
    await assets.open(trip.assetId)
    await router.push({ name: 'return', params: { assetId: trip.assetId, tripId: trip.id } })
  })
const setAside = ({ id }: LandingDocument): Promise<void> =>
  act(async () => void (await api.setLandingAside(id)))
</script>

<template>
  <ul v-if="rows.length" class="landings" aria-label="Landed in the hand-off folder">
    <li v-for="{ landing, likely, others, bytes } in rows" :key="landing.id">
      <div class="what">
        <b>{{ landing.place }}</b>
        <span class="soft">
          {{ formatTime(landing.landedAt)
          }}<template v-if="landing.files.length">
            · {{ landing.files.length === 1 ? '1 file' : `${landing.files.length} files` }},
            {{ formatBytes(bytes) }}</template
          >
        </span>
        <p>{{ landing.message }} {{ landing.advice }}</p>
      </div>
      <el-select
        v-if="landing.files.length && landings.trips.length"
        v-model="chosen[landing.id]"
        size="small"
        class="which"
        placeholder="Which trip is it of?"
        :aria-label="`Trip of ${landing.place}`"
      >
        <el-option-group v-if="likely.length" label="Likely">
          <el-option v-for="trip in likely" :key="trip.id" :value="trip.id" :label="nameOf(trip)" />
        </el-option-group>
        <el-option-group v-if="others.length" :label="likely.length ? 'Others that are out' : 'Out'">
          <el-option v-for="trip in others" :key="trip.id" :value="trip.id" :label="nameOf(trip)" />
        </el-option-group>
      </el-select>
      <el-button
        v-if="landing.files.length && landings.trips.length"
        size="small"
        type="primary"
        :disabled="busy || !chosen[landing.id]"
        @click="take(landing)"
        >Take it back</el-button
      >
      <el-button size="small" :disabled="busy" @click="setAside(landing)">Set aside</el-button>
    </li>
  </ul>
</template>

<style scoped>
.landings {
  list-style: none;
  margin: 0 0 18px;
  padding: 0;
  border: 1px solid var(--hairline);
  border-left: 3px solid var(--changed);
  background: var(--paper-raised);
  max-height: 40vh;
  overflow: auto;
}
li {
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 10px 14px;
}
li + li {
  border-top: 1px solid var(--hairline);
}
.what {
  flex: 1;
  min-width: 0;
}
.what b {
  margin-right: 10px;
  overflow-wrap: anywhere;
}
.what p {
  margin: 2px 0 0;
}
.which {
  width: 330px;
}
.el-button + .el-button {
  margin-left: 0;
}
</style>
