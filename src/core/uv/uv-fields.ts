/** How even UVs are, as a figure for each polygon. */
import { meanScale } from '../base/math/matrix.ts'
import type { MeshFacts } from '../mesh/relations/mesh-facts.ts'
import type { Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { worldMatrices } from '../scene/world.ts'
import { measureStretch, uvAreas } from './uv-measures.ts'

export type UvFieldKind = 'density' | 'stretch'

/** Of one part; both faceCount long. */
export interface UvField {
  readonly node: number
  /** density: UV units to one of the file's, even is 1; stretch: longer by shorter axis, 1 at least. NaN: not known. */
  readonly values: Float32Array
  /** On the part, in the file's unit squared. */
  readonly areas: Float64Array
}

export interface UvFields {
  readonly fields: readonly UvField[]
  /** UV units to one of the file's where the density is 1; null where nothing has UVs. */
  readonly even: number | null
}

/** Of the first UV set of each part that has one; even is the root of all areas in UV by all on the parts. */
export function measureUvFields(
  scene: Scene,
  kind: UvFieldKind,
  nodes: readonly number[],
  factsOf: (mesh: Mesh) => MeshFacts,
): UvFields {
  const worlds = worldMatrices(scene)
  let [flat, surface] = [0, 0]
  const fields = nodes.flatMap((node): UvField[] => {
    const mesh = scene.meshes[scene.nodes[node]!.mesh]
    const set = mesh?.uvSets[0]
    if (!mesh || !set) return []
    const facts = factsOf(mesh)
    const scale = meanScale(worlds[node]!) || 1
    const areas = facts.faceAreas().map((area) => area * scale * scale)
    const own = uvAreas(mesh, set)
    own.forEach((area, face) => {
      if (!Number.isFinite(area)) return
      flat += Math.abs(area)
      surface += areas[face]!
    })
    const values =
      kind === 'stretch'
        ? Float32Array.from(measureStretch(facts, set).angle)
        : Float32Array.from(own, (area, face) =>
            areas[face]! > 0 ? Math.sqrt(Math.abs(area) / areas[face]!) : NaN,
          )
    return [{ node, values, areas }]
  })
  const even = flat > 0 && surface > 0 ? Math.sqrt(flat / surface) : null
  if (kind === 'stretch' || even === null) return { fields, even }
  return { fields: fields.map((one) => ({ ...one, values: one.values.map((value) => value / even) })), even }
}
