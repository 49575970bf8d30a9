import type { SavedSurfaceRules, SurfaceRules } from '../../../contract/surface-rules.ts'
import { api } from '../../api.ts'
import { useKept } from '../../kit/use-kept.ts'

/** Rules that were kept under a name, and what can be done with them. */
export function useSavedRules() {
  const { kept: saved, change } = useKept(async () => (await api.surfaceRules()).surfaceRules)
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
