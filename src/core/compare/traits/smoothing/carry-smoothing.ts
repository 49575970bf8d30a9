import { type Mesh } from '../../../scene/mesh.ts'
import type { CarryMap } from '../trait.ts'

/** The target with the source’s smoothing in the source’s own form: groups by polygon or hard edges. */
export function carrySmoothing(target: Mesh, source: Mesh, map: CarryMap): Mesh {
  const from = source.smoothing
  const own = target.smoothing
  if (!from) return { ...target, smoothing: null }
  if (from.kind === 'groups') {
    const faceGroups = Int32Array.from(map.faces, (face, index) =>
      face >= 0 ? from.faceGroups[face]! : own?.kind === 'groups' ? own.faceGroups[index]! : 0,
    )
    return { ...target, smoothing: { kind: 'groups', faceGroups } }
  }
  if (from.kind === 'masks') {
    const faceMasks = Uint32Array.from(map.faces, (face, index) =>
      face >= 0 ? from.faceMasks[face]! : own?.kind === 'masks' ? own.faceMasks[index]! : 0,
    )
    return { ...target, smoothing: { kind: 'masks', faceMasks } }
  }
  const hard: number[] = []
  for (let at = 0; at < from.hardEdgePoints.length; at += 2) {
    const a = map.sourcePoints[from.hardEdgePoints[at]!]!
    const b = map.sourcePoints[from.hardEdgePoints[at + 1]!]!
    if (a >= 0 && b >= 0) hard.push(a, b)
  }
  return { ...target, smoothing: { kind: 'edges', hardEdgePoints: Uint32Array.from(hard) } }
}
