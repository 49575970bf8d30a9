/** All surface models. One line each. */
import type { SurfaceModelDescriptor } from './model.ts'
import { fbxPhong } from './models/fbx-phong.ts'
import { mtl } from './models/mtl.ts'

export const SURFACE_MODELS: readonly SurfaceModelDescriptor[] = [mtl, fbxPhong]

/** @throws Error where there is no such model: who asks has it from the registry. */
export function surfaceModelNamed(id: string): SurfaceModelDescriptor {
  const model = SURFACE_MODELS.find((candidate) => candidate.id === id)
  if (!model) throw new Error(`no surface model ${id}`)
  return model
}
