import type { SurfaceModel } from '../../core/surfaces/model.ts'
import { OWN_MODEL } from '../../core/surfaces/own-model.ts'
import { isSoundTarget, targetOf, type RemapRules } from '../../core/surfaces/remap/rules.ts'
import { notFound } from '../plugins/errors.ts'

/** The model that is asked for. @throws KelboError remap.bad-model, with what is wrong with one of the artist's own. */
export function soundTarget(surface: string, rules: RemapRules): SurfaceModel {
  if (surface !== OWN_MODEL && !isSoundTarget(surface, rules)) throw notFound('This surface model')
  return targetOf(surface, rules)
}
