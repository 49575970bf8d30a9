/** The remapped materials as a scene: in the target's own words, or in those of a file's with the target's beside. */
import type { Material, MaterialMap, MaterialProperty } from '../../scene/material.ts'
import type { Scene, SceneImage } from '../../scene/scene.ts'
import { convertValues } from '../convert/convert-surface.ts'
import type { SurfaceModel, SurfaceValue, SurfaceValues } from '../model.ts'
import type { RemappedMaterial, RemappedParameter } from './remap-material.ts'

const property = (name: string, value: SurfaceValue): MaterialProperty => ({
  name,
  values:
    typeof value === 'number'
      ? [value]
      : typeof value === 'boolean'
        ? [value ? 1 : 0]
        : typeof value === 'string'
          ? []
          : value,
  text: typeof value === 'string' ? value : null,
})

export const valuesOf = ({ parameters }: RemappedMaterial): SurfaceValues =>
  Object.fromEntries(
    parameters.flatMap(({ parameter, value }) => (value === null ? [] : [[parameter, value] as const])),
  )

const placementOf = ({ map }: RemappedParameter): Pick<MaterialMap, 'placement'> =>
  map?.uvSet
    ? {
        placement: {
          name: map.file,
          uvSet: map.uvSet,
          wrapU: 'repeat',
          wrapV: 'repeat',
          scale: [1, 1],
          offset: [0, 0],
          kept: [],
        },
      }
    : {}

function mapsOf(
  material: RemappedMaterial,
  wordOf: (row: RemappedParameter) => string | null,
): MaterialMap[] {
  const known = new Set<string>()
  return material.parameters.flatMap((row) => {
    const word = row.map && wordOf(row)
    // channels of one packed image are one map
    if (!row.map || !word || known.has(`${word} ${row.map.file}`)) return []
    known.add(`${word} ${row.map.file}`)
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
  properties: Object.entries(valuesOf(material)).map(([name, value]) => property(name, value)),
  maps: mapsOf(material, (row) => mapWordOf(material.target, row)),
  kept: [],
})

/**
 * A material in a file's own model, converted from the target's values; the target's parameters stand beside as a block
 * of their own where the file can hold such.
 */
function inFile(own: Material, material: RemappedMaterial, file: SurfaceModel, withBlock: boolean): Material {
  const { target } = material
  const values = convertValues(valuesOf(material), target, file)
  const block = withBlock
    ? Object.entries(valuesOf(material)).map(([name, value]) =>
        property(`${target.materialModel}|${name}`, value),
      )
    : []
  const wordOf = (row: RemappedParameter): string | null =>
    file.parameters.find(({ slot, mapName }) => slot === row.slot && mapName !== null)?.mapName ??
    (withBlock ? `${target.materialModel}|${mapWordOf(target, row)}` : null)
  return {
    id: own.id,
    name: material.name,
    model: file.materialModel,
    properties: [
      ...Object.entries(values).map(([name, value]) =>
        property(name, Array.isArray(value) ? [...(value as number[])] : value),
      ),
      ...block,
    ],
    maps: mapsOf(material, wordOf),
    kept: [],
  }
}

/**
 * @param file the model whose words the file is written in; null: the target's own.
 * @param images of maps that the scene has not had.
 */
export function applyRemap(
  scene: Scene,
  materials: readonly RemappedMaterial[],
  file: SurfaceModel | null,
  withBlock: boolean,
  images: readonly SceneImage[],
): Scene {
  const known = new Set(images.map((image) => image.file))
  return {
    ...scene,
    materials: scene.materials.map((own, index) => {
      const material = materials[index]!
      return !file || file === material.target
        ? inTarget(own, material)
        : inFile(own, material, file, withBlock)
    }),
    images: [...scene.images.filter((image) => !known.has(image.file)), ...images],
  }
}
