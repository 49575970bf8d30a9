import {
  hubOfLighting,
  LIGHTING,
  LIGHTING_CAVEATS,
  LIGHTING_FACTORS,
  LIGHTING_YIELDS,
  lightingOf,
} from '../fbx-lighting.ts'
import type { SurfaceModel } from '../model.ts'
import { readerOf } from '../parameters.ts'

const parameters = [...LIGHTING, ...LIGHTING_FACTORS]
const read = readerOf(parameters)

/** Diffuse light alone. */
export const fbxLambert: SurfaceModel = {
  id: 'fbx-lambert',
  title: 'FBX Lambert',
  source: 'names of the public FBX SDK documentation, from memory',
  materialModel: 'lambert',
  parameters,
  yieldsTo: LIGHTING_YIELDS,
  caveats: LIGHTING_CAVEATS,
  toHub: (values) => ({ ...hubOfLighting(read(values)), specularRoughness: 1 }),
  fromHub: lightingOf,
}
