/** Destinations that ship with Kelbo, named by kind. */
import type { Destination } from './destination.ts'
import { engine } from './engine.ts'
import { modelling } from './modelling.ts'
import { posing } from './posing.ts'
import { renderer } from './renderer.ts'
import { sceneAssembly } from './scene-assembly.ts'
import { sculpting } from './sculpting.ts'
import { sewingPattern } from './sewing-pattern.ts'
import { tablet } from './tablet.ts'
import { texturePainting } from './texture-painting.ts'

export const DESTINATIONS: readonly Destination[] = [
  sculpting,
  modelling,
  texturePainting,
  engine,
  renderer,
  sewingPattern,
  posing,
  tablet,
  sceneAssembly,
]

/** The destination that ships under an id; null for none. */
export const destinationOf = (id: string): Destination | null =>
  DESTINATIONS.find((destination) => destination.id === id) ?? null
