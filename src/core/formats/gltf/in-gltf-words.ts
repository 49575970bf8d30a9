/** Materials of other models in the words of glTF. */
import type { Material } from '../../scene/material.ts'
import { surfaceModelNamed } from '../../surfaces/registry.ts'
import * as worded from '../notes/worded-material.ts'
import { readValues, tidy, writeValues, type Writable } from './material-values.ts'

const MODEL = surfaceModelNamed('gltf')
const OWN_MODELS = [MODEL, surfaceModelNamed('gltf-specular-glossiness')].map(
  ({ materialModel }) => materialModel,
)

export const isOwnModel = ({ model }: Material): boolean => OWN_MODELS.includes(model)

export const inGltfWords = (material: Material): worded.Worded =>
  isOwnModel(material) ? { material, leftMaps: [], channels: new Map() } : worded.inWordsOf(MODEL, material)

/** A material's values as a file that says them gives them back. */
function asWritten(material: Material): Material['properties'] {
  const target: Writable = {}
  writeValues(target, material)
  tidy(target)
  return readValues(target)
}

/** The material that a note tells of, where what stands beside it is still what was made of it; else the one given. */
export const asItWas = (note: unknown, material: Material): Material =>
  worded.asItWas(note, material, inGltfWords, asWritten)
