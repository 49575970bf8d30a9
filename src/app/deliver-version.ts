/** A version written for a destination, its materials in the destination's words first where it has some. */
import type { Scene } from '../core/scene/scene.ts'
import { targetOf } from '../core/surfaces/remap/rules.ts'
import { deliver, type Delivery, type DeliveryRequest } from '../core/trips/deliver.ts'
import type { Host, Progress } from './host.ts'
import { remapModel } from './remap-model.ts'

/** Share of the work that images take where there are some. */
const REWIRING = 0.4

/** @throws as `deliver` and `remapModel` do. */
export async function deliverVersion(
  scene: Scene,
  request: DeliveryRequest,
  progress: Progress,
  host: Host,
): Promise<Delivery> {
  const { destination, stem } = request
  const { surfaces } = destination
  if (!surfaces) return deliver(scene, request, progress)
  const rewired = await remapModel(
    scene,
    {
      target: targetOf(surfaces.surface, surfaces.rules),
      files: [],
      rules: { green: destination.normalMapGreen, ...surfaces.rules },
      stem,
      makes: true,
    },
    (share, stage) => progress(REWIRING * share, stage),
    host,
  )
  return deliver(scene, { ...request, rewired: { ...rewired, beside: rewired.documents } }, (share, stage) =>
    progress(REWIRING + (1 - REWIRING) * share, stage),
  )
}
