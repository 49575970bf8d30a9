/** Materials of documents that lie beside a model: what they say of a material of which the model has only the name. */
import { decodeUtf8 } from '../../base/bytes/text.ts'
import { KelboError, type MessageCollector } from '../../base/messages/collector.ts'
import type { Material } from '../../scene/material.ts'
import type { Scene, SceneImage } from '../../scene/scene.ts'
import { readMaterialX, type DocumentMaterial } from '../../surfaces/documents/read-materialx.ts'
import { propertyOf } from '../../surfaces/wording/translate.ts'
import { findImage } from './find-image.ts'
import { fileNameOf, type PackageFile } from './package-file.ts'

/** Endings of documents that hold materials alone. */
export const DOCUMENT_ENDINGS: readonly string[] = ['.mtlx']

export const isMaterialDocument = (name: string): boolean =>
  DOCUMENT_ENDINGS.some((ending) => name.toLowerCase().endsWith(ending))

/** Names as such documents can have them: letters, digits and underscores. */
const plain = (name: string): string => name.normalize('NFKD').replace(/[^A-Za-z0-9_]/g, '_')

const saysNothing = ({ properties, maps, kept }: Material): boolean =>
  properties.length === 0 && maps.length === 0 && kept.length === 0

/**
 * The scene with what documents say of its materials. What the model itself says of a material goes first: a document
 * that describes it too is told and left. Materials that no part wears are there to be given to one.
 *
 * Findings: `package.document`, `package.document-left`, `package.document-unread`, `image.missing`, `image.outside`.
 */
export function withDocumentMaterials(
  scene: Scene,
  files: readonly PackageFile[],
  messages: MessageCollector,
): Scene {
  const materials = [...scene.materials]
  const images: SceneImage[] = [...scene.images]
  for (const document of files.filter(({ name }) => isMaterialDocument(name))) {
    const file = fileNameOf(document.name)
    let read: DocumentMaterial[]
    try {
      read = readMaterialX(decodeUtf8(document.bytes) ?? '')
    } catch (error) {
      if (!(error instanceof KelboError)) throw error
      messages.add('package.document-unread', { file, what: String(error.parameters.what ?? '') })
      continue
    }
    const imageOf = (path: string): string => {
      if (!images.some((image) => image.file === path)) {
        const { image, outside } = findImage(files, document.name, path)
        if (outside) messages.add('image.outside', { file: path })
        if (!image.bytes) messages.add('image.missing', { file: path })
        images.push(image)
      }
      return path
    }
    const contentOf = ({
      model,
      values,
      maps,
    }: DocumentMaterial): Pick<Material, 'model' | 'properties' | 'maps'> => ({
      model: model.materialModel,
      properties: Object.entries(values).map(([name, value]) => propertyOf(name, value)),
      maps: Object.entries(maps).map(([input, path]) => {
        const parameter = model.parameters.find(({ name, mapName }) => name === input || mapName === input)
        return {
          property: parameter?.mapName ?? input,
          slot: parameter?.slot ?? ('other' as const),
          file: imageOf(path),
          options: [],
        }
      }),
    })
    let taken = 0
    for (const own of read) {
      const at = materials.findIndex(({ name }) => name === own.name || plain(name) === plain(own.name))
      if (at >= 0 && !saysNothing(materials[at]!)) {
        messages.add('package.document-left', { name: materials[at]!.name, file })
        continue
      }
      taken++
      if (at >= 0) materials[at] = { ...materials[at]!, ...contentOf(own) }
      else materials.push({ id: '', name: own.name, kept: [], ...contentOf(own) })
    }
    if (taken > 0) messages.add('package.document', { file, count: taken })
  }
  return { ...scene, materials, images }
}
