import type { TransformParts } from '../../../scene/scene.ts'
import { canonicalText } from '../canonical-text.ts'

/** What a transform says beyond its matrix: pivots and their like, and the order of turning. */
export function transformText(parts: TransformParts | null): string {
  if (!parts) return ''
  const { translation: _translation, rotation: _rotation, scale: _scale, ...rest } = parts
  const says =
    rest.rotationOrder !== 'xyz' ||
    rest.inherits !== 'scale-then-turn' ||
    Object.values(rest).some((value) => typeof value !== 'string' && value.some((number) => number !== 0))
  return says ? canonicalText(rest) : ''
}
