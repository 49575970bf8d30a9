import { defineStore } from 'pinia'
import { ref } from 'vue'
import { ApiError } from '../api.ts'

export interface Notice {
  readonly id: number
  readonly kind: 'error' | 'done'
  readonly text: string
  readonly advice: string
}

/** Short messages at the page's foot. Errors stay until they are put away. */
export const useNotices = defineStore('notices', () => {
  const notices = ref<Notice[]>([])
  let next = 1
  const drop = (id: number): void => {
    notices.value = notices.value.filter((notice) => notice.id !== id)
  }
  function add(kind: Notice['kind'], text: string, advice = ''): void {
    const id = next++
    notices.value = [...notices.value.slice(-2), { id, kind, text, advice }]
    if (kind === 'done') setTimeout(() => drop(id), 6000)
  }
  const done = (text: string): void => add('done', text)
  function failed(error: unknown): void {
    if (error instanceof ApiError) {
      if (error.document.code === 'job.cancelled') done(error.document.message)
      else add('error', error.document.message, error.document.advice)
    } else {
      console.error(error)
      add('error', 'Something went wrong on this page.', 'Reload it and try again.')
    }
  }
  const refused = (text: string): void => add('error', text, 'Nothing was changed.')
  return { notices, drop, done, failed, refused }
})
