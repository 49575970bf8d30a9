<script setup lang="ts">
import { computed } from 'vue'
import { api } from '../api.ts'
import { useJobs } from '../stores/jobs.ts'
import { useNotices } from '../stores/notices.ts'

/** One job's progress, with its cancel. */
const props = defineProps<{ jobId: string }>()
const jobs = useJobs()
const notices = useNotices()
const job = computed(() => jobs.find(props.jobId))
const cancel = (): void => void api.cancelJob(props.jobId).catch(notices.failed)
</script>

<template>
  <div class="job" role="status">
    <span>{{
      job?.stage || (job?.state === 'queued' ? 'Waiting for a worker' : (job?.title ?? 'Starting'))
    }}</span>
    <el-progress :percentage="Math.round((job?.progress ?? 0) * 100)" :stroke-width="4" />
    <el-button size="small" text @click="cancel">Cancel</el-button>
  </div>
</template>

<style scoped>
.job {
  display: grid;
  grid-template-columns: minmax(120px, auto) minmax(80px, 1fr) auto;
  align-items: center;
  gap: 10px;
}
</style>
