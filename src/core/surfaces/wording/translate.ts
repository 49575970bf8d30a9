/**
 * Materials of models that no file format has words for: in a file they are said in the format's own model, and, where
 * it can hold such, with their own parameters beside as a block under the model's name. A file that still has both as
 * they were written gives the very material back.
 */
import type { Material, MaterialMap, MaterialProperty, Slot } from '../../scene/material.ts'
import { convertSurface, convertValues, difference, SAME_WITHIN } from '../convert/convert-surface.ts'
import type { SurfaceModel, SurfaceValue, SurfaceValues } from '../model.ts'
import { recogniseSurface } from '../recognise-surface.ts'
import { SURFACE_MODELS } from '../registry.ts'

/** Models that files are written in as they are. */
const NATIVE = new Set(['mtl', 'fbx-phong', 'fbx-lambert'])
const foreignModel = (name: string): SurfaceModel | null =>
  SURFACE_MODELS.find(({ id, materialModel }) => !NATIVE.has(id) && materialModel === name) ?? null

export const propertyOf = (name: string, value: SurfaceValue): MaterialProperty => ({
  name,
  values:
    typeof value === 'number'
      ? [value]
      : typeof value === 'boolean'
        ? [value ? 1 : 0]
        : typeof value === 'string'
          ? []
          : [...value],
  text: typeof value === 'string' ? value : null,
})

const propertiesOf = (values: SurfaceValues, prefix = ''): MaterialProperty[] =>
  Object.entries(values).map(([name, value]) => propertyOf(`${prefix}${name}`, value))

const hasWord = (file: SurfaceModel, slot: Slot | null): boolean =>
  file.parameters.some((parameter) => parameter.slot === slot && parameter.mapName !== null)

/**
 * @param withBlock whether the file can hold parameters of other models.
 * @returns null for a material that a file can be written of as it is; `lost` names what the file can't hold.
 */
export function toFileModel(
  material: Material,
  file: SurfaceModel,
  withBlock: boolean,
): { material: Material; lost: string[] } | null {
  const own = foreignModel(material.model)
  if (!own) return null
  const { values } = recogniseSurface(material)
  const { parameters, report } = convertSurface(values, own, file, true)
  const lost = withBlock
    ? []
    : report
        .filter(({ how, losesNothing }) => how === 'none' && !losesNothing)
        .map(({ parameter }) => parameter)
  const maps: MaterialMap[] = []
  for (const map of material.maps) {
    const word = file.parameters.find(({ slot, mapName }) => slot === map.slot && mapName !== null)?.mapName
    const property = word ?? (withBlock ? `${own.materialModel}|${map.property}` : null)
    if (property === null || maps.some((known) => known.property === property)) lost.push(map.property)
    else maps.push({ ...map, property })
  }
  return {
    lost,
    material: {
      ...material,
      model: file.materialModel,
      properties: [
        ...propertiesOf(parameters),
        ...(withBlock
          ? material.properties.map((property) => ({
              ...property,
              name: `${own.materialModel}|${property.name}`,
            }))
          : []),
      ],
      maps,
    },
  }
}

/**
 * A material with a block as `toFileModel` writes it, as it was before; the material as it stands where the two no
 * longer say the same, since a tool has changed what it knows and left the rest.
 */
export function fromFileModel(material: Material, file: SurfaceModel): Material {
  const prefixed = material.properties.find(
    ({ name }) => foreignModel(name.split('|')[0]!) && name.includes('|'),
  )
  const own = prefixed && foreignModel(prefixed.name.split('|')[0]!)
  if (!own) return material
  const prefix = `${own.materialModel}|`
  const bare = material.properties.flatMap(({ name, values, text }): MaterialProperty[] =>
    name.startsWith(prefix) ? [{ name: name.slice(prefix.length), values, text }] : [],
  )
  const back: Material = {
    ...material,
    model: own.materialModel,
    properties: bare,
    maps: material.maps.map((map) => {
      if (map.property.startsWith(prefix)) {
        const property = map.property.slice(prefix.length)
        const named = own.parameters.filter(({ mapName }) => mapName === property)
        // of several that share an image the block has the one that the file has no word for
        const parameter = named.find(({ slot }) => !hasWord(file, slot)) ?? named[0]
        return { ...map, property, slot: parameter?.slot ?? map.slot }
      }
      const parameter = own.parameters.find(({ slot, mapName }) => slot === map.slot && mapName !== null)
      return { ...map, property: parameter?.mapName ?? map.property }
    }),
  }
  const { values } = recogniseSurface(back)
  const expected = convertValues(values, own, file)
  const said = recogniseSurface({
    ...material,
    properties: material.properties.filter(({ name }) => !name.includes('|')),
  }).values
  const isUntouched = Object.entries(expected).every(
    ([name, value]) => said[name] !== undefined && difference(value, said[name]) <= SAME_WITHIN,
  )
  return isUntouched ? back : material
}
