import { formatById } from '../../formats/registry.ts'
import type { Scene } from '../../scene/scene.ts'

/** Whether a scene's numbers came through a format that keeps 32 bits of them. */
export const hasRoundedNumbers = ({ format }: Pick<Scene, 'format'>): boolean =>
  formatById(format)?.roundsNumbers === true
