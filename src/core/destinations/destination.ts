import type { ObjReadOptions, ObjWriteOptions } from '../formats/obj/options.ts'
import type { CheckSettings } from '../checks/settings.ts'
import type { Trait } from '../traits/trait.ts'

/** The description of a tool that files go to. */
export interface Destination {
  readonly id: string
  readonly name: string
  readonly kind: 'modelling' | 'sculpting' | 'texture-painting'
  readonly description: string
  readonly format: 'obj'
  readonly writeOptions: Partial<ObjWriteOptions>
  readonly readOptions: Partial<ObjReadOptions>
  /** What a model is held against before it leaves for this destination. */
  readonly checkSettings: Partial<CheckSettings>
  /** What the hop is for: the traits offered for taking when the model comes back. */
  readonly purpose: readonly Trait[]
  /** The stand-in to practise this destination with. */
  readonly standIn: 'sculptor' | null
}

/** Destinations that ship with Kelbo, named by kind. */
export const DESTINATIONS: readonly Destination[] = [
  {
    id: 'sculpting',
    name: 'Sculpting tool',
    kind: 'sculpting',
    description:
      'Takes the polygons and one UV set, moves points, and usually returns without smoothing, creases and materials.',
    format: 'obj',
    writeOptions: { normals: false },
    readOptions: {},
    checkSettings: { wantQuads: true },
    purpose: ['points'],
    standIn: 'sculptor',
  },
  {
    id: 'modelling',
    name: 'Modelling tool',
    kind: 'modelling',
    description: 'Changes polygons, UVs and assignments; expects groups, smoothing and normals.',
    format: 'obj',
    writeOptions: {},
    readOptions: {},
    checkSettings: { wantQuads: true },
    purpose: ['topology', 'points', 'uvs', 'smoothing', 'materials', 'groups'],
    standIn: null,
  },
  {
    id: 'texture-painting',
    name: 'Texture painting tool',
    kind: 'texture-painting',
    description: 'Paints maps on the UVs; needs material names and UVs, and should return both as they were.',
    format: 'obj',
    writeOptions: { creases: false },
    readOptions: {},
    checkSettings: { wantQuads: false, mapSize: 4096, paddingPixels: 8 },
    purpose: ['uvs', 'surfaces'],
    standIn: null,
  },
]

export const destinationOf = (id: string): Destination | null =>
  DESTINATIONS.find((destination) => destination.id === id) ?? null
