import { type BlendShape, type Mesh, type Skin } from '../../../scene/mesh.ts'
import type { CarryMap } from '../trait.ts'

/** Blend shapes and skin, whose joints must be those of the target's scene already. */
export function carryShapes(target: Mesh, source: Mesh, map: CarryMap): Mesh {
  const shapes = source.shapes.map((shape): BlendShape => {
    const placeOf = new Map<number, number>()
    shape.points.forEach((point, at) => placeOf.set(point, at))
    const points: number[] = []
    const offsets: number[] = []
    const turns = { normals: [] as number[], tangents: [] as number[] }
    map.points.forEach((from, point) => {
      const place = from < 0 ? undefined : placeOf.get(from)
      if (place === undefined) return
      points.push(point)
      offsets.push(...shape.offsets.subarray(3 * place, 3 * place + 3))
      for (const kind of ['normals', 'tangents'] as const)
        if (shape[kind]) turns[kind].push(...shape[kind].subarray(3 * place, 3 * place + 3))
    })
    return {
      ...shape,
      points: Uint32Array.from(points),
      offsets: Float64Array.from(offsets),
      normals: shape.normals ? Float64Array.from(turns.normals) : null,
      ...(shape.tangents ? { tangents: Float64Array.from(turns.tangents) } : {}),
    }
  })
  return { ...target, shapes, skin: source.skin && carrySkin(source.skin, map) }
}

/** Points without counterpart are moved by no joint. */
export function carrySkin(skin: Skin, map: CarryMap): Skin {
  const offsets = new Uint32Array(map.points.length + 1)
  const joints: number[] = []
  const weights: number[] = []
  map.points.forEach((from, point) => {
    if (from >= 0)
      for (let at = skin.offsets[from]!; at < skin.offsets[from + 1]!; at++) {
        joints.push(skin.joints[at]!)
        weights.push(skin.weights[at]!)
      }
    offsets[point + 1] = joints.length
  })
  return { ...skin, offsets, joints: Uint32Array.from(joints), weights: Float64Array.from(weights) }
}
