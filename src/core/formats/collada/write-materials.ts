/** Images, effects and materials of the common profile. Source: COLLADA 1.4.1, chapter “FX”. */
import type { MessageCollector } from '../../base/messages/collector.ts'
import { imageFiles } from '../../scene/image-tiles.ts'
import type { Material, MaterialMap, MaterialProperty } from '../../scene/material.ts'
import type { Scene } from '../../scene/scene.ts'
import { surfaceModelNamed } from '../../surfaces/registry.ts'
import { toFileModel } from '../../surfaces/wording/translate.ts'
import { inWordsOf } from '../../surfaces/wording/wording.ts'
import { fileNameOf, packagePath, type PackageFile } from '../package/package-file.ts'
import type { ColladaWriteOptions } from './options.ts'
import { PARAMETERS, saidBy } from './read-materials.ts'
import { writeNotes } from './write-geometry.ts'
import type { XmlWriter } from './xml-writer.ts'

const PHONG = surfaceModelNamed('fbx-phong')

/** A material in the words that this format is read in, with what it has none for. */
function worded(material: Material): { material: Material; lost: string[] } {
  const foreign = toFileModel(material, PHONG, false)
  if (foreign) return foreign
  // the two old models share their words
  if (['phong', 'lambert'].includes(material.model)) return { material, lost: [] }
  return inWordsOf(PHONG, material)
}

const numbersOf = (properties: readonly MaterialProperty[], name: string): readonly number[] | null =>
  properties.find((property) => property.name === name && property.values.length > 0)?.values ?? null

/** Parameters that stand beside a factor here, and don't there. */
const FACTORS: Readonly<Record<string, string>> = {
  DiffuseColor: 'DiffuseFactor',
  AmbientColor: 'AmbientFactor',
  EmissiveColor: 'EmissiveFactor',
  SpecularColor: 'SpecularFactor',
}
/** Words without a place that one sentence names. */
const MOST_NAMED = 4
const OPACITY_MAP = 'TransparentColor'

interface Written {
  /** As reading gives it back. */
  readonly material: Material
  /** Files of maps that have no place in it. */
  readonly left: readonly string[]
  /** Parameters that have none, by the material's own words. */
  readonly lost: readonly string[]
}

/** What is written of a material, in the order and the words of reading. */
function writable(own: Material): Written {
  const { material, lost } = worded(own)
  const properties: MaterialProperty[] = []
  const maps: MaterialMap[] = []
  const isLambert = material.model === 'lambert'
  for (const { name, width, word } of PARAMETERS) {
    if (isLambert && (word === 'specular' || word === 'shininess')) continue
    const values =
      numbersOf(material.properties, name) ??
      (name === 'ShininessExponent' ? numbersOf(material.properties, 'Shininess') : null)
    const [factor = 1] = numbersOf(material.properties, FACTORS[name] ?? '') ?? []
    if (values && values.length >= width)
      properties.push({ name, values: values.slice(0, width).map((value) => value * factor), text: null })
    const map = material.maps.find(({ property, placement }) => property === name && !placement?.stack)
    if (map) maps.push(map)
  }
  const [opacity] = numbersOf(material.properties, 'Opacity') ?? []
  const through = numbersOf(material.properties, 'TransparentColor')
  const [share = 1] = numbersOf(material.properties, 'TransparencyFactor') ?? []
  const remains = opacity ?? (through ? 1 - (share * (through[0]! + through[1]! + through[2]!)) / 3 : 1)
  if (remains !== 1) properties.push({ name: 'Opacity', values: [remains], text: null })
  const seen = material.maps.find(({ property }) => property === OPACITY_MAP)
  if (seen) maps.push(seen)
  const left = [...new Set([...own.maps, ...material.maps].map(({ file }) => file))].filter(
    (file) => !maps.some((map) => map.file === file),
  )
  return {
    material: { ...material, properties, maps },
    left,
    lost: lost.filter((what) => !own.maps.some(({ property }) => property === what)),
  }
}

const percent = (path: string): string =>
  path
    .replace(/\\/g, '/')
    .split('/')
    .map((part) => encodeURIComponent(part))
    .join('/')

export interface WrittenMaterials {
  /** Id of each material. */
  readonly ids: readonly string[]
  /** By materials: what its maps call each set of UVs that is not the first. */
  readonly sets: ReadonlyMap<number, ReadonlyMap<string, string>>
}

/** @param files images beside the model are added here. */
export function writeMaterials(
  xml: XmlWriter,
  scene: Scene,
  settings: ColladaWriteOptions,
  idOf: (wanted: string) => string,
  files: PackageFile[],
  messages: MessageCollector,
): WrittenMaterials {
  const written = scene.materials.map(writable)
  const ids = scene.materials.map(({ name }) => idOf(`${name}-material`))
  const sets = new Map<number, Map<string, string>>()
  if (scene.materials.length === 0) return { ids, sets }
  const full = settings.materials === 'full'
  const images = new Map<string, string>()
  const used = full
    ? [...new Set(written.flatMap(({ material }) => material.maps.map(({ file }) => file)))]
    : []
  if (used.length)
    xml.element('library_images', {}, () => {
      for (const file of used) {
        const id = idOf(`${fileNameOf(file)}-image`)
        images.set(file, id)
        xml.element('image', { id, name: fileNameOf(file) }, () => xml.leaf('init_from', {}, percent(file)))
        const image = scene.images.find((own) => own.file === file)
        if (settings.maps)
          for (const { path, bytes } of imageFiles(image)) {
            const name = packagePath(path) || fileNameOf(path)
            if (!files.some((known) => known.name === name)) files.push({ name, bytes })
          }
      }
    })
  if (full) {
    for (const file of new Set(written.flatMap(({ left }) => left)))
      messages.add('write.not-carried', { format: 'COLLADA', what: `the map “${file}”` })
    const lost = [...new Set(written.flatMap((own) => own.lost))]
    const rest = lost.length - MOST_NAMED
    if (lost.length)
      messages.add('write.not-carried', {
        format: 'COLLADA',
        what: `what materials call ${lost.slice(0, MOST_NAMED).join(', ')}${rest > 0 ? ` and ${rest} more` : ''}`,
      })
  }
  const texture = (map: MaterialMap, number: number): void => {
    const set = map.placement?.uvSet ?? ''
    const held = sets.get(number) ?? new Map<string, string>()
    const coordinate = set === '' ? 'UVSET0' : (held.get(set) ?? `UVSET${held.size + 1}`)
    if (set !== '') {
      held.set(set, coordinate)
      sets.set(number, held)
    }
    const { scale = [1, 1], offset = [0, 0] } = map.placement ?? {}
    const isMoved = scale.some((one) => one !== 1) || offset.some((one) => one !== 0)
    const attributes = { texture: `${images.get(map.file)!}-sampler`, texcoord: coordinate }
    if (!isMoved) xml.leaf('texture', attributes)
    else
      xml.element('texture', attributes, () =>
        xml.element('extra', {}, () =>
          xml.element('technique', { profile: 'placement' }, () => {
            xml.leaf('repeatU', {}, String(scale[0]))
            xml.leaf('repeatV', {}, String(scale[1]))
            xml.leaf('offsetU', {}, String(offset[0]))
            xml.leaf('offsetV', {}, String(offset[1]))
          }),
        ),
      )
  }
  xml.element('library_effects', {}, () =>
    written.forEach(({ material: { properties, maps, model } }, number) =>
      xml.element('effect', { id: `${ids[number]!}-effect` }, () =>
        xml.element('profile_COMMON', {}, () => {
          if (full)
            for (const map of maps.filter(
              (own, at) => maps.findIndex(({ file }) => file === own.file) === at,
            )) {
              const id = images.get(map.file)!
              xml.element('newparam', { sid: `${id}-surface` }, () =>
                xml.element('surface', { type: '2D' }, () => xml.leaf('init_from', {}, id)),
              )
              xml.element('newparam', { sid: `${id}-sampler` }, () =>
                xml.element('sampler2D', {}, () => {
                  xml.leaf('source', {}, `${id}-surface`)
                  if (map.placement?.wrapU === 'clamp') xml.leaf('wrap_s', {}, 'CLAMP')
                  if (map.placement?.wrapV === 'clamp') xml.leaf('wrap_t', {}, 'CLAMP')
                }),
              )
            }
          xml.element('technique', { sid: 'common' }, () =>
            xml.element(model === 'lambert' ? 'lambert' : 'phong', {}, () => {
              if (!full) return
              const of = (name: string): readonly number[] | null => numbersOf(properties, name)
              for (const { word, name, width } of PARAMETERS) {
                const values = of(name)
                const map = maps.find(({ property }) => property === name)
                // a place takes a value or a map
                if (width === 3 && map) xml.element(word, {}, () => texture(map, number))
                else if (width === 3 && values)
                  xml.element(word, {}, () => xml.leaf('color', { sid: word }, [...values, 1].join(' ')))
                else if (width === 1 && values)
                  xml.element(word, {}, () => xml.leaf('float', { sid: word }, String(values[0])))
              }
              const seen = maps.find(({ property }) => property === OPACITY_MAP)
              const [left] = of('Opacity') ?? []
              if (seen || left !== undefined)
                xml.element('transparent', { opaque: 'A_ONE' }, () => {
                  if (seen) texture(seen, number)
                  else xml.leaf('color', {}, '1 1 1 1')
                })
              if (left !== undefined)
                xml.element('transparency', {}, () => xml.leaf('float', {}, String(left)))
            }),
          )
        }),
      ),
    ),
  )
  xml.element('library_materials', {}, () =>
    scene.materials.forEach((own, number) =>
      xml.element('material', { id: ids[number]!, name: own.name }, () => {
        xml.leaf('instance_effect', { url: `#${ids[number]!}-effect` })
        if (!full) return
        const { material } = written[number]!
        const mapped = new Set(material.maps.map(({ property }) => property))
        // a value under a map has no place, and comes back with the note alone
        const said = saidBy({
          ...material,
          properties: material.properties.filter(({ name }) => !mapped.has(name)),
        })
        const { model, properties, maps, kept } = own
        const { left } = written[number]!
        writeNotes(xml, { said, ...(left.length ? { left } : {}), as: { model, properties, maps, kept } })
      }),
    ),
  )
  return { ids, sets }
}
