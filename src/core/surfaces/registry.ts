/** All surface models that ship. One line each. */
import type { SurfaceModel } from './model.ts'
import { fbxLambert } from './models/fbx-lambert.ts'
import { fbxPhong } from './models/fbx-phong.ts'
import { gltf } from './models/gltf.ts'
import { gltfSpecularGlossiness } from './models/gltf-specular-glossiness.ts'
import { mtl } from './models/mtl.ts'
import { openPbr } from './models/openpbr.ts'
import { reflectionGlossiness } from './models/reflection-glossiness.ts'
import { standardSurface } from './models/standard-surface.ts'
import { usdPreview } from './models/usd-preview.ts'

export const SURFACE_MODELS: readonly SurfaceModel[] = [
  mtl,
  fbxLambert,
  fbxPhong,
  gltf,
  gltfSpecularGlossiness,
  openPbr,
  standardSurface,
  usdPreview,
  reflectionGlossiness,
]

/** Models whose own words the formats write materials in; their order decides where two share a word. */
export const FILE_MODELS: readonly SurfaceModel[] = [mtl, fbxPhong]

/** @throws Error where there is no such model: who asks has it from the registry. */
export function surfaceModelNamed(id: string): SurfaceModel {
  const model = SURFACE_MODELS.find((candidate) => candidate.id === id)
  if (!model) throw new Error(`no surface model ${id}`)
  return model
}
