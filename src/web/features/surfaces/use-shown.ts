import { ref, shallowRef, watch } from 'vue'
import type { RemapBody, RemapResultDocument, ShownSurfacesDocument } from '../../../contract/surfaces.ts'
import { shownSurfacesSchema } from '../../../contract/surfaces.ts'
import { gltf } from '../../../core/surfaces/models/gltf.ts'
import { SLOT_WORDS } from '../../../core/surfaces/wording/slot-words.ts'
import { api } from '../../api.ts'
import { useJobs } from '../../stores/jobs.ts'
import { useNotices } from '../../stores/notices.ts'

/** Parameters that are always offered to be looked at alone. */
const ALWAYS: ReadonlySet<string> = new Set(['base_color', 'metallic', 'roughness'])

/**
 * Both looks of the model as scenes that the viewer draws, made anew whenever what becomes of the materials has
 * changed.
 */
export function useShown(
  assetId: () => string,
  request: () => RemapBody,
  found: () => RemapResultDocument | null,
) {
  const jobs = useJobs()
  const notices = useNotices()
  const shown = shallowRef<ShownSurfacesDocument | null>(null)
  const job = ref<string | null>(null)
  const parameters = shallowRef<{ value: string; label: string }[]>([])
  let ticket = 0

  async function make(): Promise<void> {
    const mine = ++ticket
    const before = job.value
    if (before) void api.cancelJob(before).catch(notices.failed)
    try {
      const { jobId } = await api.remap(assetId(), request())
      if (mine !== ticket) return void api.cancelJob(jobId).catch(notices.failed)
      job.value = jobId
      const done = await jobs.finished(jobId)
      if (mine !== ticket) return
      const made = shownSurfacesSchema.parse(done.result)
      const offered = await drawnParameters(made)
      if (mine !== ticket) return
      parameters.value = offered
      shown.value = made
    } catch (error) {
      if (mine === ticket) notices.failed(error)
    } finally {
      if (mine === ticket) job.value = null
    }
  }
  watch(found, (result) => result && void make(), { immediate: true })

  /** Parameters of glTF that some material has a map of, or says something of. */
  async function drawnParameters(made: ShownSurfacesDocument): Promise<{ value: string; label: string }[]> {
    const scenes = await Promise.all([made.beforeSceneId, made.afterSceneId].map(api.scene))
    const materials = scenes.flatMap(({ inspection }) => inspection.materials)
    return gltf.parameters.flatMap(({ name, mapName, slot, standard }) => {
      if (!slot || !mapName) return []
      const id = name ?? mapName
      const isUsed = materials.some(
        ({ maps, surface }) =>
          maps.some((map) => map.slot === slot) ||
          (name !== null &&
            JSON.stringify(surface?.parameters[name] ?? standard) !== JSON.stringify(standard)),
      )
      const words = SLOT_WORDS[slot]
      return ALWAYS.has(id) || isUsed
        ? [{ value: id, label: `${words[0]!.toUpperCase()}${words.slice(1)}` }]
        : []
    })
  }
  return { shown, job, parameters }
}
