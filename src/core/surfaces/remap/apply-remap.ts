/** The remapped materials as a scene, in the target's own words; a writer says them in those of its format. */
import type { Material, MaterialMap } from '../../scene/material.ts'
import type { Scene, SceneImage } from '../../scene/scene.ts'
import type { SurfaceModel, SurfaceValues } from '../model.ts'
import { propertyOf } from '../wording/translate.ts'
import { PLAIN_PLACEMENT } from './map-use.ts'
import type { RemappedMaterial, RemappedParameter } from './remapped-material.ts'

export const valuesOf = ({ parameters }: RemappedMaterial): SurfaceValues =>
  Object.fromEntries(
    parameters.flatMap(({ parameter, value }) => (value === null ? [] : [[parameter, value] as const])),
  )

function placementOf({ map }: RemappedParameter): Pick<MaterialMap, 'placement'> {
  if (!map || (!map.uvSet && !map.placement)) return {}
  return {
    placement: { name: map.file, uvSet: map.uvSet, ...PLAIN_PLACEMENT, ...map.placement, kept: [] },
  }
}

function mapsOf(
  material: RemappedMaterial,
  wordOf: (row: RemappedParameter) => string | null,
): MaterialMap[] {
  const known = new Set<string>()
  return material.parameters.flatMap((row) => {
    const word = row.map && wordOf(row)
    const slot = row.slot ?? row.map?.slot
    if (!row.map || !word || known.has(`${word} ${slot}`)) return []
    known.add(`${word} ${slot}`)
    return [
      {
        property: word,
        slot: row.slot ?? row.map.slot,
        file: row.map.file,
        options: row.map.slot === 'bump' && row.map.amount !== 1 ? [['-bm', String(row.map.amount)]] : [],
        ...placementOf(row),
      },
    ]
  })
}

const mapWordOf = (model: SurfaceModel, row: RemappedParameter): string | null =>
  model.parameters.find((parameter) => (parameter.name ?? parameter.mapName) === row.parameter)?.mapName ??
  null

/** A material in the target's own words. */
const inTarget = (own: Material, material: RemappedMaterial): Material => ({
  id: own.id,
  name: material.name,
  model: material.target.materialModel,
  properties: Object.entries(valuesOf(material)).map(([name, value]) => propertyOf(name, value)),
  maps: mapsOf(material, (row) => mapWordOf(material.target, row)),
  kept: [],
})

/** @param images of maps that the scene has not had. */
export function applyRemap(
  scene: Scene,
  materials: readonly RemappedMaterial[],
  images: readonly SceneImage[],
): Scene {
  const known = new Set(images.map((image) => image.file))
  return {
    ...scene,
    materials: scene.materials.map((own, index) => inTarget(own, materials[index]!)),
    images: [...scene.images.filter((image) => !known.has(image.file)), ...images],
  }
}
