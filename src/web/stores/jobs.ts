import { defineStore } from 'pinia'
import { computed, markRaw, ref } from 'vue'
import { jobSchema, type JobDocument } from '../../contract/api.ts'
import { api, ApiError } from '../api.ts'

/** Milliseconds before a refused line is tried again. */
const TRY_AGAIN_AFTER = 3000

/** The server's work, live. */
export const useJobs = defineStore('jobs', () => {
  const jobs = ref<JobDocument[]>([])
  const connected = ref(false)
  const waiting = new Map<string, ((job: JobDocument) => void)[]>()
  const over = (job: JobDocument): boolean => !['queued', 'running'].includes(job.state)

  function take(news: JobDocument): void {
    // what a job made may be a ledger of thousands of parts, which never changes
    const job = markRaw(news)
    const place = jobs.value.findIndex((known) => known.id === job.id)
    // events may overtake each other; what is over stays over
    if (place >= 0 && over(jobs.value[place]!) && !over(job)) return
    if (place < 0) jobs.value.unshift(job)
    else jobs.value[place] = job
    if (over(job)) {
      for (const resolve of waiting.get(job.id) ?? []) resolve(job)
      waiting.delete(job.id)
    }
  }

  async function refresh(): Promise<void> {
    for (const job of (await api.jobs()).jobs.reverse()) take(job)
    // what the list leaves out, and somebody waits for
    for (const id of [...waiting.keys()]) take(await api.job(id))
  }

  let line: EventSource | null = null
  /** Anew where there is a line already. */
  function connect(): void {
    line?.close()
    const events = new EventSource('/api/events')
    line = events
    events.onopen = () => {
      connected.value = true
      // what changed while the line was down
      void refresh()
    }
    events.onerror = () => {
      connected.value = false
      // the browser tries again by itself but where it was refused: who is signed out is told by any other request
      if (events.readyState === EventSource.CLOSED)
        setTimeout(() => {
          if (line === events) refresh().then(connect, () => undefined)
        }, TRY_AGAIN_AFTER)
    }
    events.addEventListener('job', (event) =>
      take(jobSchema.parse(JSON.parse((event as MessageEvent<string>).data))),
    )
  }

  /** Resolves when the job is done; rejects with its message when it failed or was cancelled. */
  async function finished(jobId: string): Promise<JobDocument> {
    if (!find(jobId)) take(await api.job(jobId))
    // an event may have come in while the answer was on its way
    const known = find(jobId)!
    const job = over(known)
      ? known
      : await new Promise<JobDocument>((resolve) =>
          waiting.set(jobId, [...(waiting.get(jobId) ?? []), resolve]),
        )
    if (job.state === 'done') return job
    throw new ApiError(
      job.error ?? { code: 'job.failed', message: 'The work stopped.', advice: 'Try again.' },
    )
  }

  const active = computed(() => jobs.value.filter((job) => !over(job)))
  const find = (id: string | null): JobDocument | null => jobs.value.find((job) => job.id === id) ?? null
  return { jobs, active, connected, connect, finished, find, refresh }
})
