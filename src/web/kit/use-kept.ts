import { onMounted, shallowRef } from 'vue'
import { isConflict } from '../api.ts'
import { useNotices } from '../stores/notices.ts'

/** What is kept under names on the server; after each change, and after somebody else's, it is fetched anew. */
export function useKept<Kept>(fetchAll: () => Promise<readonly Kept[]>) {
  const notices = useNotices()
  const kept = shallowRef<readonly Kept[]>([])
  const refresh = async (): Promise<void> => {
    kept.value = await fetchAll()
  }
  onMounted(() => void refresh().catch(notices.failed))
  /** @param words said when it is done. */
  async function change(work: () => Promise<unknown>, words: string): Promise<void> {
    try {
      await work()
      await refresh()
      notices.done(words)
    } catch (error) {
      notices.failed(error)
      if (isConflict(error)) await refresh().catch(notices.failed)
    }
  }
  return { kept, change }
}
