/**
 * A model's materials for another surface model: what is decided without a pixel, and, once its images are made, the
 * scene and documents that leave.
 */
import { createByteWriter, joinBytes } from '../core/base/bytes/byte-writer.ts'
import { collectMessages } from '../core/base/messages/collector.ts'
import type { Finding } from '../core/base/messages/catalogue.ts'
import type { FormatDescriptor } from '../core/formats/descriptor.ts'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import type { Scene, SceneImage } from '../core/scene/scene.ts'
import { writeGltfMaterials } from '../core/surfaces/documents/gltf-materials.ts'
import { sheetOf, sheetPage, type MaterialSheet } from '../core/surfaces/documents/material-sheet.ts'
import { writeMaterialX } from '../core/surfaces/documents/materialx.ts'
import type { SurfaceModel } from '../core/surfaces/model.ts'
import { surfaceModelNamed } from '../core/surfaces/registry.ts'
import { applyRemap } from '../core/surfaces/remap/apply-remap.ts'
import { planMaps, type MapNaming, type MapPlan } from '../core/surfaces/remap/plan-maps.ts'
import { remapScene, type RemapRequest, type RemapResult } from '../core/surfaces/remap/remap-scene.ts'

function textBytes(content: string): Uint8Array {
  const out = createByteWriter()
  out.text(content)
  return joinBytes(out.blocks())
}

export interface RemapPlan {
  readonly result: RemapResult
  readonly plan: MapPlan
}

export function planRemap(scene: Scene, request: RemapRequest, naming?: MapNaming): RemapPlan {
  const result = remapScene(scene, request)
  return { result, plan: planMaps(result.materials, naming) }
}

export interface Remapped {
  readonly scene: Scene
  readonly sheets: readonly MaterialSheet[]
  /** What lies beside the model: documents, and no images. */
  readonly documents: readonly PackageFile[]
  readonly findings: readonly Finding[]
}

/**
 * @param stem name of the model's file without ending: the documents are named after it.
 * @param format that the model is written in; its materials are in its own words then.
 */
export function finishRemap(
  scene: Scene,
  { result, plan }: RemapPlan,
  images: readonly SceneImage[],
  failed: readonly { readonly path: string; readonly why: string }[],
  target: SurfaceModel,
  format: FormatDescriptor | null,
  stem: string,
): Remapped {
  const messages = collectMessages(null)
  for (const { path, why } of failed) messages.add('remap.image-not-made', { path, why })
  const file =
    !format || format.surfaceModels.includes(target.id) ? null : surfaceModelNamed(format.surfaceModels[0]!)
  const sheets = plan.materials.map(sheetOf)
  const text = (name: string, content: string): PackageFile => ({
    name,
    bytes: textBytes(content),
  })
  const materialX = writeMaterialX(plan.materials)
  const isGltf = target.id === 'gltf' || target.id === 'gltf-specular-glossiness'
  return {
    scene: applyRemap(scene, plan.materials, file, format?.keepsForeignParameters ?? false, images),
    sheets,
    documents: [
      ...(materialX === null ? [] : [text(`${stem}.mtlx`, materialX)]),
      ...(isGltf
        ? [
            text(
              `${stem}-gltf-materials.json`,
              `${JSON.stringify(writeGltfMaterials(plan.materials), null, 2)}\n`,
            ),
          ]
        : []),
      text(
        `${stem}-materials.json`,
        `${JSON.stringify({ surface: target.id, title: target.title, source: target.source, materials: sheets }, null, 2)}\n`,
      ),
      text(`${stem}-materials.html`, sheetPage(stem, target.title, sheets)),
    ],
    findings: [...result.findings, ...messages.list()],
  }
}
