/**
 * A model's materials for another surface model: what is decided without a pixel, then its images, then the scene and
 * the documents that lie beside it.
 */
import { createByteWriter, joinBytes } from '../core/base/bytes/byte-writer.ts'
import { collectMessages } from '../core/base/messages/collector.ts'
import type { Finding } from '../core/base/messages/catalogue.ts'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { imageFiles } from '../core/scene/image-tiles.ts'
import type { Scene } from '../core/scene/scene.ts'
import { writeGltfMaterials, type GltfMaterials } from '../core/surfaces/documents/gltf-materials.ts'
import { sheetPage, sheetsOf, type MaterialSheet } from '../core/surfaces/documents/material-sheet.ts'
import { writeMaterialX } from '../core/surfaces/documents/materialx.ts'
import type { SurfaceModel } from '../core/surfaces/model.ts'
import { applyRemap } from '../core/surfaces/remap/apply-remap.ts'
import type { MapNaming } from '../core/surfaces/remap/map-naming.ts'
import { planMaps, type MapPlan } from '../core/surfaces/remap/plan-maps.ts'
import { remapScene, type ImageFacts, type RemapResult } from '../core/surfaces/remap/remap-scene.ts'
import type { RemappedMaterial } from '../core/surfaces/remap/remapped-material.ts'
import type { RemapRules } from '../core/surfaces/remap/rules.ts'
import { convertMaps } from './convert-maps.ts'
import { drawOneMap } from './draw-one-map.ts'
import type { Host, ImageHost, MadeMaps, Progress } from './host.ts'
import { sourceList } from './source-images.ts'

function textBytes(content: string): Uint8Array {
  const out = createByteWriter()
  out.text(content)
  return joinBytes(out.blocks())
}

export interface RemapModelRequest {
  readonly target: SurfaceModel
  /** Images of a folder, by their paths within it. */
  readonly files: readonly PackageFile[]
  readonly rules: RemapRules
  readonly naming?: MapNaming
  /** Name of the model's file without ending: the documents are named after it. */
  readonly stem: string
  /** Whether images are made; without, only what would be done is told. */
  readonly makes: boolean
  /** What is known of the images already; absent: they are looked at. */
  readonly facts?: RemapFacts
  /** A model of the artist's own that the materials are of already. */
  readonly source?: SurfaceModel
}

/** What images say of themselves: those of the folder, and the model's own maps of normals. */
export interface RemapFacts {
  readonly files: readonly ImageFacts[]
  readonly own: readonly ImageFacts[]
}

export async function remapFacts(
  scene: Scene,
  files: readonly PackageFile[],
  images: ImageHost,
  told: (share: number) => void,
): Promise<RemapFacts> {
  return {
    files: await images.facts(files, told),
    own: await images.facts(normalMaps(scene), () => undefined),
  }
}

export interface RemappedModel {
  readonly result: RemapResult
  readonly plan: MapPlan
  readonly scene: Scene
  readonly sheets: readonly MaterialSheet[]
  /** What lies beside the model: documents, and no images. */
  readonly documents: readonly PackageFile[]
  /** The block of a glTF document; null for other targets. */
  readonly gltf: GltfMaterials | null
  readonly findings: readonly Finding[]
}

const isGltf = ({ id }: SurfaceModel): boolean => id === 'gltf' || id === 'gltf-specular-glossiness'

/** @throws Error where images are there and the host has no way with them. */
export async function remapModel(
  scene: Scene,
  request: RemapModelRequest,
  progress: Progress,
  { images }: Host,
): Promise<RemappedModel> {
  const { target, files, rules, naming, stem, makes } = request
  if (!images) throw new Error('no images here')
  const facts =
    request.facts ??
    (await remapFacts(scene, files, images, (share) => progress(share * 0.4, 'Looking at the maps')))
  progress(0.4, 'Wiring')
  const { source } = request
  const result = remapScene(scene, { target, ...facts, rules, ...(source ? { source } : {}) })
  const messages = collectMessages(null)
  const computed = makes
    ? await convertMaps(result.materials, sourceList(files, scene), images, (share) =>
        progress(0.4 + share * 0.1, 'Converting the maps'),
      )
    : { files: [], failed: [] }
  for (const { path, why } of computed.failed) messages.add('remap.image-not-made', { path, why })
  const materials = withoutFailed(result.materials, computed.failed)
  const oneMap = rules.oneMap
    ? await drawOneMap(
        scene,
        { options: rules.oneMap, target, materials, files: [...computed.files, ...files], makes },
        (share, stage) => progress(0.5 + share * 0.3, stage),
        images,
      )
    : null
  const from = oneMap ? 0.8 : 0.5
  const planned = planMaps(oneMap?.materials ?? materials, naming ?? rules.naming, rules.green ?? null)
  const made = makes
    ? await makeImages(
        scene,
        [...(oneMap?.drawn ?? []), ...computed.files, ...files],
        planned,
        images,
        (share, stage) => progress(from + share * (0.95 - from), stage),
      )
    : { images: [], failed: [] }
  for (const { path, why } of made.failed) messages.add('remap.image-not-made', { path, why })
  const plan = { ...planned, materials: withoutFailed(planned.materials, made.failed) }
  const sheets = sheetsOf(plan.materials, oneMap?.scene ?? scene)
  const gltf = isGltf(target) ? writeGltfMaterials(plan.materials) : null
  return {
    result,
    plan,
    scene: applyRemap(oneMap?.scene ?? scene, plan.materials, packedAgain(made.images, scene, files)),
    sheets,
    documents: documentsOf(stem, target, plan, sheets, gltf),
    gltf,
    findings: [...result.findings, ...(oneMap?.findings ?? []), ...messages.list()],
  }
}

/** A model that came with all its maps in its file leaves with those that are made of them in its file. */
function packedAgain(
  made: MadeMaps['images'],
  { images }: Scene,
  files: readonly PackageFile[],
): MadeMaps['images'] {
  const lay = images.filter(({ bytes }) => bytes !== null)
  if (files.length > 0 || lay.length === 0 || !lay.every(({ embedded }) => embedded)) return made
  return made.map((image) => (image.tiles ? image : { ...image, embedded: true }))
}

/** Maps of normals that a model has itself, by the paths that its materials name; of tiles the first. */
function normalMaps(scene: Scene): PackageFile[] {
  const named = new Set(
    scene.materials.flatMap(({ maps }) =>
      maps.flatMap(({ slot, file }) => (slot === 'normal' || slot === 'clearcoatNormal' ? [file] : [])),
    ),
  )
  return scene.images.flatMap((image) => {
    const [first] = named.has(image.file) ? imageFiles(image) : []
    return first ? [{ name: image.file, bytes: first.bytes }] : []
  })
}

/** The materials without maps that could not be made: nothing names a file that isn't there. */
function withoutFailed(
  materials: readonly RemappedMaterial[],
  failed: MadeMaps['failed'],
): readonly RemappedMaterial[] {
  if (failed.length === 0) return materials
  const reasons = new Map(failed.map(({ path, why }) => [path, why]))
  return materials.map((material) => ({
    ...material,
    parameters: material.parameters.map((row) => {
      const why = row.map && reasons.get(row.map.file)
      return why
        ? {
            ...row,
            // a neutral value stands for what the map would have said
            value: row.withoutMap ?? row.value,
            map: null,
            how: 'none' as const,
            note: `its map could not be made: ${why}`,
          }
        : row
    }),
  }))
}

function makeImages(
  scene: Scene,
  files: readonly PackageFile[],
  plan: MapPlan,
  images: ImageHost,
  progress: Progress,
): Promise<MadeMaps> {
  // what was made for it goes before what lies in the folder by the same name
  const folder = new Map([...files].reverse().map((one) => [one.name.toLowerCase(), one]))
  const own = new Map(
    scene.images.flatMap((image) => imageFiles(image).map(({ path, bytes }) => [path, bytes] as const)),
  )
  return images.make(
    plan.maps,
    [...files.map(({ name }) => name), ...own.keys()],
    (name) => folder.get(name.toLowerCase())?.bytes ?? own.get(name) ?? null,
    (share) => progress(share, 'Making the maps'),
  )
}

function documentsOf(
  stem: string,
  target: SurfaceModel,
  plan: MapPlan,
  sheets: readonly MaterialSheet[],
  gltf: GltfMaterials | null,
): PackageFile[] {
  const text = (name: string, content: string): PackageFile => ({ name, bytes: textBytes(content) })
  const json = (content: unknown): string => `${JSON.stringify(content, null, 2)}\n`
  const materialX = writeMaterialX(plan.materials)
  return [
    ...(materialX === null ? [] : [text(`${stem}.mtlx`, materialX)]),
    ...(gltf ? [text(`${stem}-gltf-materials.json`, json(gltf))] : []),
    text(
      `${stem}-materials.json`,
      json({ surface: target.id, title: target.title, source: target.source, materials: sheets }),
    ),
    text(`${stem}-materials.html`, sheetPage(stem, target.title, sheets)),
  ]
}
