import { onMounted, ref } from 'vue'
import type { SavedSurfaceRules, SurfaceRules } from '../../../contract/surface-rules.ts'
import { api, isConflict } from '../../api.ts'
import { useNotices } from '../../stores/notices.ts'

/** Rules that were kept under a name, and what can be done with them. */
export function useSavedRules() {
  const notices = useNotices()
  const saved = ref<SavedSurfaceRules[]>([])
  const refresh = async (): Promise<void> => {
    saved.value = (await api.surfaceRules()).surfaceRules
  }
  onMounted(() => void refresh().catch(notices.failed))
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
  return {
    saved,
    /** Rules of the same name are replaced by these. */
    keep(rules: SurfaceRules): Promise<void> {
      const known = saved.value.find(({ name }) => name === rules.name)
      return change(
        () => (known ? api.changeSurfaceRules(known.id, rules, known.updatedAt) : api.addSurfaceRules(rules)),
        `The rules “${rules.name}” are kept${known ? ' in place of the ones before' : ''}.`,
      )
    },
    drop: ({ id, name, updatedAt }: SavedSurfaceRules) =>
      change(() => api.removeSurfaceRules(id, updatedAt), `The rules “${name}” are deleted.`),
  }
}
