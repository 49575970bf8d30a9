/** All traits, in the order in which the ledger shows them and reconciling carries them. */
import { renderText, type TextParameters } from '../../base/messages/render.ts'
import { colours } from './colours/colours.ts'
import { creases } from './creases/creases.ts'
import { groups } from './groups/groups.ts'
import { materials } from './materials/materials.ts'
import { names } from './names/names.ts'
import { normals } from './normals/normals.ts'
import { points } from './points/points.ts'
import { sceneSettings } from './scene/scene-settings.ts'
import { shapes } from './shapes/shapes.ts'
import { smoothing } from './smoothing/smoothing.ts'
import { surfaces } from './surfaces/surfaces.ts'
import { topology } from './topology/topology.ts'
import { COMMON_NOTES, type NoteDescriptor, type TraitDescriptor } from './trait.ts'
import { transforms } from './transforms/transforms.ts'
import { uvs } from './uvs/uvs.ts'

const REGISTRY = {
  topology,
  points,
  uvs,
  smoothing,
  normals,
  creases,
  transforms,
  names,
  materials,
  surfaces,
  groups,
  colours,
  shapes,
  scene: sceneSettings,
} as const satisfies Record<string, TraitDescriptor>

export type Trait = keyof typeof REGISTRY
export const TRAIT_DESCRIPTORS: Readonly<Record<Trait, TraitDescriptor>> = REGISTRY
export const TRAITS = Object.keys(REGISTRY) as readonly Trait[]
/** Traits that every part has one of. */
export const PART_TRAITS: readonly Trait[] = TRAITS.filter(
  (trait) => TRAIT_DESCRIPTORS[trait].scope === 'part',
)

/** Whether a word is a trait’s id. */
export const isTrait = (word: string): word is Trait => Object.hasOwn(REGISTRY, word)

/** Every sentence that a comparison may end in. */
export const NOTES: Readonly<Record<string, NoteDescriptor>> = Object.assign(
  {},
  COMMON_NOTES,
  ...TRAITS.map((trait) => TRAIT_DESCRIPTORS[trait].notes),
) as Record<string, NoteDescriptor>

/** What a trait is called where people read it. */
export const traitLabel = (trait: Trait): string => TRAIT_DESCRIPTORS[trait].title

/** The sentence of a note, as it is said of a file that came back. */
export const noteText = (note: string, parameters: TextParameters): string =>
  renderText(NOTES[note]?.ledger ?? note, parameters)

/** What forecasts are worded from. */
export const TRAIT_KINDS = {
  notes: NOTES,
  isOfThePart: (trait: Trait): boolean => TRAIT_DESCRIPTORS[trait].ofThePart,
} as const
