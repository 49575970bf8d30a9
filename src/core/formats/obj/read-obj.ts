import { normalizeTextBytes } from '../../base/bytes/text.ts'
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, KelboError } from '../../base/messages/collector.ts'
import { computeNormals } from '../../mesh/normals/compute-normals.ts'
import type { Material } from '../../scene/material.ts'
import { faceCountOf } from '../../scene/mesh.ts'
import { DEFAULT_SPACE, rootNodes, type Scene, type SceneImage } from '../../scene/scene.ts'
import { readMtl } from './read-mtl.ts'
import { findImage } from '../package/find-image.ts'
import { findInPackage, stemOf, type PackageFile } from '../package/package-file.ts'
import type { PieceReader } from '../descriptor.ts'
import { readStatementsInPieces } from './pieces.ts'
import { buildParts } from './build-parts.ts'
import { OBJ_READ_DEFAULTS, type ObjReadOptions } from './options.ts'
import { readObjStatements } from './read-statements.ts'
import { targetSpace } from '../../scene/space.ts'

export interface ReadResult {
  readonly scene: Scene
  readonly findings: readonly Finding[]
}

/**
 * Reads an OBJ with the MTL files and images that lie beside it in the package.
 *
 * @param file the OBJ; any encoding that `normalizeTextBytes` knows, any line ending.
 * @param beside all files of the package; material files and maps are looked up among these only.
 * @param pieces reads large files on several threads; null: in this one.
 * @throws KelboError `file.empty`, `file.not-a-model`.
 */
export function readObj(
  file: PackageFile,
  beside: readonly PackageFile[] = [],
  options: Partial<ObjReadOptions> = {},
  pieces: PieceReader | null = null,
): ReadResult {
  const settings = { ...OBJ_READ_DEFAULTS, ...options }
  if (file.bytes.length === 0) throw new KelboError('file.empty', {}, file.name)
  const messages = collectMessages(file.name)
  const bytes = normalizeTextBytes(file.bytes)
  const statements =
    pieces && pieces.piecesFor(bytes.length) > 1
      ? readStatementsInPieces(bytes, messages, pieces)
      : readObjStatements(bytes, messages)
  if (statements.points.length === 0) throw new KelboError('file.not-a-model', {}, file.name)

  let meshes = buildParts(statements, settings, stemOf(file.name), messages)
  if (!meshes.some((mesh) => faceCountOf(mesh) > 0)) messages.add('obj.no-faces')
  const findings: Finding[] = []
  let materials: Material[] = []
  let images: SceneImage[] = []
  if (settings.materials === 'none') meshes = meshes.map((mesh) => ({ ...mesh, faceMaterials: null }))
  else {
    const described = new Map<string, Material>()
    if (settings.materials === 'full')
      for (const library of statements.libraries)
        for (const name of libraryNames(library.file, file.name, beside)) {
          const found = findInPackage(beside, file.name, name)
          if (!found.file) {
            messages.add('obj.missing-mtl', { file: name }, library.line)
            continue
          }
          const read = readMtl(found.file, settings.invertTransparency)
          findings.push(...read.findings)
          for (const material of read.materials)
            if (!described.has(material.name)) described.set(material.name, material)
          images = addImages(images, read.materials, found.file, beside, findings)
        }
    materials = statements.materialNames.map((name) => {
      const material = described.get(name)
      described.delete(name)
      if (!material && settings.materials === 'full' && statements.libraries.length > 0)
        messages.add('obj.undefined-material', { name })
      return material ?? { id: '', name, model: 'mtl', properties: [], maps: [], kept: [] }
    })
    // described but not used by a face: kept behind those that are
    materials.push(...described.values())
  }
  if (settings.normals !== 'file') {
    const bend = settings.normals === 'angle' ? (settings.normalsAngle * Math.PI) / 180 : null
    meshes = meshes.map((mesh) => ({ ...mesh, normals: computeNormals(mesh, bend) }))
  }
  return {
    scene: {
      format: 'obj',
      formatVersion: null,
      space: targetSpace(DEFAULT_SPACE, settings),
      nodes: rootNodes(meshes),
      meshes,
      materials,
      images,
      cameras: [],
      lights: [],
      properties: {},
    },
    findings: [...messages.list(), ...findings],
  }
}

/** `mtllib` may name several files, and one file's name may hold blanks: the whole is tried first. */
function libraryNames(text: string, from: string, beside: readonly PackageFile[]): string[] {
  if (text === '') return []
  if (findInPackage(beside, from, text).file) return [text]
  const names = text.split(/\s+/)
  if (names.length > 1 && names.some((name) => findInPackage(beside, from, name).file)) return names
  return /\.\w+\s+\S+\.\w+$/.test(text) ? names : [text]
}

function addImages(
  known: SceneImage[],
  materials: readonly Material[],
  mtl: PackageFile,
  beside: readonly PackageFile[],
  findings: Finding[],
): SceneImage[] {
  const images = [...known]
  const messages = collectMessages(mtl.name)
  for (const material of materials)
    for (const map of material.maps) {
      if (images.some((image) => image.file === map.file)) continue
      const { image, outside } = findImage(beside, mtl.name, map.file)
      if (outside) messages.add('image.outside', { file: map.file })
      if (!image.bytes) messages.add('image.missing', { file: map.file })
      images.push(image)
    }
  findings.push(...messages.list())
  return images
}
