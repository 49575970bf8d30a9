import { type Mesh } from '../../../scene/mesh.ts'
import { edgeKey } from '../../../mesh/relations/adjacency.ts'
import type { CarryMap } from '../trait.ts'

/**
 * The target with the source’s creases and scheme of subdivision; where points were welded the sharper one stays.
 */
export function carryCreases(target: Mesh, source: Mesh, map: CarryMap): Mesh {
  const from = source.creases
  if (!from) return { ...target, creases: null, subdivision: source.subdivision }
  // edges and corners that come together where points were welded are one, with the greater sharpness
  const sharper = <Key>(map: Map<Key, number>, key: Key, sharpness: number): unknown =>
    map.set(key, Math.max(sharpness, map.get(key) ?? 0))
  const edges = new Map<number, number>()
  const ends = new Map<number, readonly [number, number]>()
  from.edgeSharpness.forEach((sharpness, edge) => {
    const a = map.sourcePoints[from.edgePoints[2 * edge]!]!
    const b = map.sourcePoints[from.edgePoints[2 * edge + 1]!]!
    if (a < 0 || b < 0 || a === b) return
    const key = edgeKey(a, b)
    if (!ends.has(key)) ends.set(key, [a, b])
    sharper(edges, key, sharpness)
  })
  const corners = new Map<number, number>()
  from.cornerSharpness.forEach((sharpness, corner) => {
    const point = map.sourcePoints[from.cornerPoints[corner]!]!
    if (point >= 0) sharper(corners, point, sharpness)
  })
  return {
    ...target,
    subdivision: source.subdivision,
    creases: {
      edgePoints: Uint32Array.from([...ends.values()].flat()),
      edgeSharpness: Float64Array.from(edges.values()),
      cornerPoints: Uint32Array.from(corners.keys()),
      cornerSharpness: Float64Array.from(corners.values()),
    },
  }
}
