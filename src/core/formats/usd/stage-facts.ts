/** What single prims of a stage are to a scene, and what the stage says of the whole. */
import type { Material } from '../../scene/material.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { CustomProperties, Space } from '../../scene/scene.ts'
import type { Stage, StagePrim } from './compose.ts'
import { isDictionary } from './layer.ts'
import type { UsdReadOptions } from './options.ts'
import { valueOf } from './read-transform.ts'

/** Kinds of prims that are nodes of a scene, with or without something to show. */
export const NODE_TYPES: ReadonlySet<string> = new Set(['', 'Xform', 'Scope', 'Mesh', 'SkelRoot', 'Skeleton', 'Camera', 'PointInstancer']) // prettier-ignore
/** Kinds that belong to what stands above them or names them. */
export const PART_TYPES: ReadonlySet<string> = new Set(['Material', 'Shader', 'NodeGraph', 'GeomSubset', 'BlendShape']) // prettier-ignore
export const isLight = (type: string): boolean => /Light$/.test(type) && type !== 'MeshLight'

/** Kinds in an artist’s words. */
export const WORDS: Readonly<Record<string, string>> = {
  SkelAnimation: 'animation of skeletons',
  BasisCurves: 'curves',
  NurbsCurves: 'curves',
  HermiteCurves: 'curves',
  NurbsPatch: 'curved surfaces',
  Points: 'points',
  Cube: 'plain solids',
  Sphere: 'plain solids',
  Cylinder: 'plain solids',
  Cone: 'plain solids',
  Capsule: 'plain solids',
  Plane: 'plain solids',
  Volume: 'volumes',
}

export function spaceOf(stage: Stage, settings: UsdReadOptions): Space {
  const unit = stage.metadata.get('metersPerUnit')
  const up =
    settings.upAxis ?? (String(stage.metadata.get('upAxis') ?? 'Y').toUpperCase() === 'Z' ? 'z' : 'y')
  return {
    unitMeters:
      settings.unitMeters ?? (typeof unit === 'number' && unit > 0 && Number.isFinite(unit) ? unit : null),
    upAxis: up,
    frontAxis: up.endsWith('z') ? '-y' : 'z',
    handedness: 'right',
  }
}

/** Single values of a camera or light, by their own words. */
export function plainProperties(prim: StagePrim): CustomProperties {
  const properties: Record<string, CustomProperties[string]> = {}
  for (const property of prim.properties.values()) {
    const name = property.name.replace(/^inputs:/, '')
    if (/^(xformOp|userProperties:|visibility$|purpose$)/.test(property.name)) continue
    const value = valueOf(property)
    if (typeof value === 'number' || typeof value === 'string' || typeof value === 'boolean')
      properties[name] = value
    else if (value instanceof Float64Array && value.length <= 4) properties[name] = [...value]
  }
  return properties
}

/** Whether a prim and all below are of others: materials, their nodes, parts of meshes. */
export const isOnlyParts = (prim: StagePrim): boolean =>
  PART_TYPES.has(prim.type) ||
  ((prim.type === 'Scope' || prim.type === '') && prim.children.length > 0 && prim.children.every(isOnlyParts)) // prettier-ignore

export const holdsMesh = (prim: StagePrim): boolean => prim.type === 'Mesh' || prim.children.some(holdsMesh)

/** Maps on the sets that the meshes which wear them have under the file’s words. */
export const withUvSets = (
  materials: readonly Material[],
  meshes: readonly Mesh[],
  names: readonly ReadonlyMap<string, string>[],
): Material[] =>
  materials.map((material, number) => {
    if (!material.maps.some(({ placement }) => placement?.uvSet)) return material
    const wearing = meshes.findIndex(({ faceMaterials }) => faceMaterials?.includes(number))
    return {
      ...material,
      maps: material.maps.map(({ placement, ...map }) => {
        if (!placement) return map
        const uvSet =
          names[wearing]?.get(placement.uvSet) ?? (placement.uvSet === 'st' ? '' : placement.uvSet)
        const { wrapU, wrapV, scale, offset } = placement
        const isPlain =
          uvSet === '' &&
          wrapU === 'repeat' &&
          wrapV === 'repeat' &&
          scale.every((one) => one === 1) &&
          offset.every((one) => one === 0)
        return isPlain ? map : { ...map, placement: { ...placement, uvSet } }
      }),
    }
  })

/** Properties of the whole file, as Kelbo puts them beside it. */
export function sceneProperties(stage: Stage): CustomProperties {
  const data = stage.metadata.get('customLayerData')
  const text = isDictionary(data) ? data.get('properties')?.value : undefined
  if (typeof text !== 'string') return {}
  try {
    const found: unknown = JSON.parse(text)
    return found && typeof found === 'object' && !Array.isArray(found) ? (found as CustomProperties) : {}
  } catch {
    return {}
  }
}
