/** Destinations that ship with Kelbo, named by kind. */
import type { Destination } from './destination.ts'
import { engine } from './shipped/engine.ts'
import { modelling } from './shipped/modelling.ts'
import { posing } from './shipped/posing.ts'
import { renderer } from './shipped/renderer.ts'
import { sculpting } from './shipped/sculpting.ts'
import { sewingPattern } from './shipped/sewing-pattern.ts'
import { texturePainting } from './shipped/texture-painting.ts'

export const DESTINATIONS: readonly Destination[] = [
  sculpting,
  modelling,
  texturePainting,
  engine,
  renderer,
  sewingPattern,
  posing,
]

export const destinationOf = (id: string): Destination | null =>
  DESTINATIONS.find((destination) => destination.id === id) ?? null
