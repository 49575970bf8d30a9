/** A destination of which nothing is known but its format, and a delivery to it. */
import type { Scene } from '../src/core/scene/scene.ts'
import { deliver, type DeliveryRequest } from '../src/core/trips/deliver.ts'
import { DESTINATION_DEFAULTS, type Destination } from '../src/core/trips/destinations/destination.ts'

export const workshop = (more: Partial<Destination> = {}): Destination => ({
  ...DESTINATION_DEFAULTS,
  id: 'workshop',
  name: 'Workshop',
  kind: 'modelling',
  description: '',
  format: 'fbx',
  ...more,
})

export const send = (scene: Scene, destination: Destination, more: Partial<DeliveryRequest> = {}) =>
  deliver(scene, { destination, options: {}, stem: 'crate', withRecipe: true, codec: null, ...more })
