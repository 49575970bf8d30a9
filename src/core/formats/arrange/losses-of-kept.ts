/** What a file holds that Kelbo has no use for goes back into the same format alone. */
import type { Scene } from '../../scene/scene.ts'

/** @param format that is written and takes its own back; null where it never does. */
export function lossesOfKept({ kept }: Scene, format: string | null): string[] {
  if (!kept || kept.format === format) return []
  // beside its objects an FBX has sections that every one has
  const isThere = kept.objects.length > 0 || (kept.format !== 'fbx' && kept.sections.length > 0)
  return isThere ? ['what its file holds beside the model, such as animation'] : []
}
