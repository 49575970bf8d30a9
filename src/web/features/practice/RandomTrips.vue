<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'
import { randomTripsResultSchema, type RandomTripDocument } from '../../../contract/api.ts'
import { api } from '../../api.ts'
import { formatCount } from '../../kit/format.ts'
import JobProgress from '../../kit/JobProgress.vue'
import { useJobs } from '../../stores/jobs.ts'
import { useNotices } from '../../stores/notices.ts'

/** Many trips of one model with faults that follow from a seed, and how much of it was found again. */
const props = defineProps<{ tripId: string }>()
const jobs = useJobs()
const notices = useNotices()
const COUNT = 100
const seed = ref(1)
const job = ref<string | null>(null)
const trips = shallowRef<readonly RandomTripDocument[]>([])
const open = ref(false)

const sum = (of: (trip: RandomTripDocument) => number): number =>
  trips.value.reduce((total, trip) => total + of(trip), 0)
const score = computed(() => ({
  right: sum(({ right }) => right),
  undecided: sum(({ undecided }) => undecided),
  wrong: sum(({ wrong }) => wrong),
}))

async function run(): Promise<void> {
  try {
    job.value = (await api.randomTrips(props.tripId, COUNT, seed.value)).jobId
    const done = await jobs.finished(job.value)
    trips.value = randomTripsResultSchema.parse(done.result).trips
    seed.value += COUNT
  } catch (error) {
    notices.failed(error)
  } finally {
    job.value = null
  }
}
</script>

<template>
  <div class="random">
    <h2>A hundred random trips</h2>
    <p class="soft">
      Of this trip’s model, changed in one to six ways each; every point’s way is known. Nothing of them is
      kept.
    </p>
    <JobProgress v-if="job" :job-id="job" />
    <el-button v-else size="small" @click="run">{{ trips.length ? 'A hundred more' : 'Run them' }}</el-button>
    <template v-if="trips.length && !job">
      <p class="score" role="status">
        <b>{{ formatCount(score.right) }}</b> points found again,
        <b>{{ formatCount(score.undecided) }}</b> left open or gone,
        <b>{{ formatCount(score.wrong) }}</b> taken for others.
        <el-button link type="primary" size="small" @click="open = true">Each of them</el-button>
      </p>
    </template>
    <el-dialog v-model="open" title="Random trips" width="1080" align-center>
      <el-table :data="[...trips]" height="560" size="small">
        <el-table-column prop="seed" label="Seed" width="72" align="right" sortable />
        <el-table-column label="What was done" min-width="300">
          <template #default="{ row }: { row: RandomTripDocument }">{{ row.done.join(' ') }}</template>
        </el-table-column>
        <el-table-column label="What Kelbo found" min-width="380">
          <template #default="{ row }: { row: RandomTripDocument }">{{ row.found.join(' ') }}</template>
        </el-table-column>
        <el-table-column prop="right" label="Right" width="84" align="right" sortable />
        <el-table-column prop="undecided" label="Open, gone" width="112" align="right" sortable />
        <el-table-column prop="wrong" label="Wrong" width="86" align="right" sortable />
      </el-table>
    </el-dialog>
  </div>
</template>

<style scoped>
.random {
  margin-top: 26px;
  border-top: 1px solid var(--hairline);
}
h2 {
  margin: 14px 0 2px;
}
p {
  margin: 0 0 8px;
}
.score {
  margin-top: 10px;
}
</style>
