<script setup lang="ts">
import { computed, onMounted } from 'vue'
import type { JobDocument } from '../../../contract/api.ts'
import { api } from '../../api.ts'
import { formatTime } from '../../kit/format.ts'
import { useJobs } from '../../stores/jobs.ts'
import { useNotices } from '../../stores/notices.ts'

const jobs = useJobs()
const notices = useNotices()
onMounted(() => void jobs.refresh().catch(notices.failed))
const WORDS: Record<JobDocument['state'], string> = {
  queued: '… waiting',
  running: '→ running',
  done: '✓ done',
  failed: '✕ failed',
  cancelled: '– cancelled',
}
/** Looks at materials that are done were seen by whoever asked; they are no work to come back to. */
const listed = computed(() => jobs.jobs.filter(({ kind, state }) => kind !== 'look' || state !== 'done'))
/** Where people sign in. */
const named = computed(() => listed.value.some((job) => job.askedBy))
const seconds = (job: JobDocument): string =>
  job.startedAt && job.finishedAt
    ? `${((Date.parse(job.finishedAt) - Date.parse(job.startedAt)) / 1000).toFixed(1)} s`
    : ''
const cancel = (id: string): void => void api.cancelJob(id).catch(notices.failed)
</script>

<template>
  <section>
    <h1>Jobs</h1>
    <p class="soft">
      Reading, writing, matching: the work in the background. More workers may run on other machines.
    </p>
    <el-table v-if="listed.length" :data="listed" row-key="id" class="list">
      <el-table-column label="Job" min-width="220">
        <template #default="{ row }">{{ row.title }}</template>
      </el-table-column>
      <el-table-column v-if="named" label="Asked by" width="130">
        <template #default="{ row }">{{ row.askedBy }}</template>
      </el-table-column>
      <el-table-column label="State" width="120">
        <template #default="{ row }">
          <span :class="row.state">{{ WORDS[(row as JobDocument).state] }}</span>
        </template>
      </el-table-column>
      <el-table-column label="Progress" min-width="380">
        <template #default="{ row }">
          <el-progress
            v-if="row.state === 'running'"
            :percentage="Math.round(row.progress * 100)"
            :stroke-width="4"
          />
          <template v-else-if="row.error"
            >{{ row.error.message }} <span class="soft">{{ row.error.advice }}</span></template
          >
        </template>
      </el-table-column>
      <el-table-column label="Took" width="90" align="right">
        <template #default="{ row }">{{ seconds(row) }}</template>
      </el-table-column>
      <el-table-column label="Since" width="130" align="right">
        <template #default="{ row }"
          ><span class="soft">{{ formatTime(row.createdAt) }}</span></template
        >
      </el-table-column>
      <el-table-column width="90" align="right">
        <template #default="{ row }">
          <el-button
            v-if="row.state === 'running' || row.state === 'queued'"
            size="small"
            text
            @click="cancel(row.id)"
            >Cancel</el-button
          >
        </template>
      </el-table-column>
    </el-table>
    <p v-else class="none">
      Nothing has been done yet. Bring in a model, or send one out; the work shows up here.
    </p>
  </section>
</template>

<style scoped>
section {
  padding: 26px 32px;
  height: 100%;
  overflow: auto;
}
.list {
  margin-top: 16px;
}
.failed {
  color: var(--lost);
}
.none {
  margin-top: 60px;
  text-align: center;
}
</style>
