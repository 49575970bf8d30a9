/** What a file will carry, measured anew whenever something else is asked for. */
import { onBeforeUnmount, ref, shallowRef, watch, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import { forecastResultSchema, type ForecastResult } from '../../../contract/api.ts'
import { api, ApiError, type SendRequest } from '../../api.ts'
import { parseLedgers } from '../../parse-ledgers.ts'
import { useJobs } from '../../stores/jobs.ts'
import { useNotices } from '../../stores/notices.ts'

export interface Forecasting {
  /** Of what is asked for now, or of what was asked for before while that is measured; null: not known. */
  readonly forecast: ShallowRef<ForecastResult | null>
  readonly jobId: Ref<string | null>
  /** Why such a file can't be written; null where it can. */
  readonly refusal: Ref<{ readonly message: string; readonly advice: string } | null>
}

/** Milliseconds before a change of what was measured already is measured. */
const PAUSE = 350

export function useForecast(assetId: () => string, request: ComputedRef<SendRequest>): Forecasting {
  const jobs = useJobs()
  const notices = useNotices()
  const forecast = shallowRef<ForecastResult | null>(null)
  const jobId = ref<string | null>(null)
  const refusal: Forecasting['refusal'] = ref(null)
  let timer: ReturnType<typeof setTimeout> | undefined
  let ticket = 0
  async function run(): Promise<void> {
    const mine = ++ticket
    try {
      if (jobId.value) await api.cancelJob(jobId.value).catch(notices.failed)
      const asked = await api.forecast(assetId(), request.value)
      // asked anew, or gone elsewhere, while the job was made
      if (mine !== ticket) return void api.cancelJob(asked.jobId).catch(notices.failed)
      jobId.value = asked.jobId
      const job = await jobs.finished(asked.jobId)
      if (mine !== ticket) return
      const measured = await parseLedgers(forecastResultSchema, job.result, ['forecast'])
      if (mine !== ticket) return
      forecast.value = measured
      refusal.value = null
    } catch (error) {
      if (mine !== ticket) return
      // what was measured before is not what would leave now
      forecast.value = null
      if (error instanceof ApiError && error.document.code !== 'job.cancelled') refusal.value = error.document
      else notices.failed(error)
    } finally {
      if (mine === ticket) jobId.value = null
    }
  }
  watch(
    request,
    () => {
      clearTimeout(timer)
      timer = setTimeout(() => void run(), forecast.value ? PAUSE : 0)
    },
    { immediate: true, deep: true },
  )
  onBeforeUnmount(() => {
    clearTimeout(timer)
    ticket++
  })
  return { forecast, jobId, refusal }
}
