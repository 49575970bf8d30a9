<script setup lang="ts">
import { onMounted } from 'vue'
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
    <table v-if="jobs.jobs.length">
      <thead>
        <tr>
          <th>Job</th>
          <th>State</th>
          <th>Progress</th>
          <th class="figure">Took</th>
          <th class="figure">Since</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="job in jobs.jobs" :key="job.id">
          <td>{{ job.title }}</td>
          <td :class="job.state">{{ WORDS[job.state] }}</td>
          <td class="wide">
            <el-progress
              v-if="job.state === 'running'"
              :percentage="Math.round(job.progress * 100)"
              :stroke-width="4"
            />
            <template v-else-if="job.error"
              >{{ job.error.message }} <span class="soft">{{ job.error.advice }}</span></template
            >
          </td>
          <td class="figure">{{ seconds(job) }}</td>
          <td class="figure soft">{{ formatTime(job.createdAt) }}</td>
          <td class="figure">
            <el-button
              v-if="job.state === 'running' || job.state === 'queued'"
              size="small"
              text
              @click="cancel(job.id)"
              >Cancel</el-button
            >
          </td>
        </tr>
      </tbody>
    </table>
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
table {
  margin-top: 16px;
}
th {
  border-bottom: 1px solid var(--ink);
  padding: 6px 14px 6px 0;
}
th.figure {
  text-align: right;
}
td {
  border-bottom: 1px solid var(--hairline);
  padding: 9px 14px 9px 0;
}
.wide {
  width: 46%;
}
.failed {
  color: var(--lost);
}
.none {
  margin-top: 60px;
  text-align: center;
}
</style>
